/** Orders texts by their UTF-16 code units: the same on every machine, whatever its language. */
export function compareText(a: string, b: string): number {
  if (a === b) return 0;
  return a < b ? -1 : 1;
}
