/**
 * Texts, or where there are too many of them, how they begin: as much of each that hardly more than so many differ. All of
 * them go on from one of these, so that none is hidden by the others.
 * @returns in the order of their letters, each once.
 */
export function beginnings(texts: readonly string[], most: number): readonly string[] {
  const sorted = [...new Set(texts)].sort();
  if (sorted.length <= most) return sorted;

  let shown = sorted;

  for (let length = commonLength(sorted) + 1; ; length += 1) {
    const cut = [...new Set(sorted.map((text) => cutAt(text, length)))];
    if (cut.length > most) return shown === sorted ? cut : shown;
    shown = cut;
  }
}

/** How many letters all of some sorted texts begin with: those of the first and the last. */
function commonLength(sorted: readonly string[]): number {
  const [first = '', last = ''] = [sorted[0], sorted.at(-1)];
  let length = 0;

  while (length < first.length && first[length] === last[length]) length += 1;
  return length;
}

/** The beginning of a text that breaks no character apart. */
function cutAt(text: string, length: number): string {
  const isBroken = /[\uD800-\uDBFF]/u.test(text.charAt(length - 1)) && text.length > length;
  return text.slice(0, isBroken ? length + 1 : length);
}
