/** Orders texts by their UTF-16 code units: the same on every machine, whatever its language. */
export function compareText(a: string, b: string): number {
  if (a === b) return 0;
  if (a < b) return -1;
  return 1;
}
