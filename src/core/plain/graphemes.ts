/** Made once a text needs it: that takes longer than counting most texts. */
let segmenter: Intl.Segmenter | undefined;

/** So many code units are looked at at once: the segmenter takes a time that grows with the square of them. */
const atOnce = 512;

/**
 * The number of characters as a person counts them (Unicode extended grapheme clusters, UAX #29), in a time that grows
 * with the length of the text. Where a character ends depends on nothing before its beginning, so the text is counted in
 * pieces, each of which begins where the last whole character of the one before ended.
 */
export function countGraphemes(text: string): number {
  // Most texts are ASCII, where a code unit is a character unless a CR is followed by a LF.
  if (/^[\x20-\x7E\n]*$/u.test(text)) return text.length;

  segmenter ??= new Intl.Segmenter('und', { granularity: 'grapheme' });
  let count = 0;
  let from = 0;
  let size = atOnce;

  while (from < text.length) {
    const isRest = from + size >= text.length;
    const starts = [...segmenter.segment(text.slice(from, from + size))].map(({ index }) => index);
    const last = starts.at(-1) ?? 0;
    if (isRest) return count + starts.length;
    if (last === 0) {
      // One character is longer than the piece, a letter under thousands of accents: a larger piece is taken.
      size *= 2;
      continue;
    }

    count += starts.length - 1;
    from += last;
    size = atOnce;
  }

  return count;
}
