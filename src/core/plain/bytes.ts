/** `2 MB` of 2,000,000 bytes. */
export function sayBytes(bytes: number): string {
  for (const [unit, factor] of [
    ['GB', 1e9],
    ['MB', 1e6],
    ['kB', 1e3],
  ] as const)
    if (bytes >= factor) return `${Math.round((bytes / factor) * 10) / 10} ${unit}`;

  return `${bytes} B`;
}
