/**
 * What is one column wide wherever it stands: letters of Europe that are written alone, and our own glyphs. That is all of
 * most outputs, and then nobody has to wait for the tables of what is not. The build has packages that measure for
 * themselves, for help and questions, measure by this as well (scripts/build.mjs).
 */
const plainLetters =
  /^[\x20-\x7e\u00a0-\u00ac\u00ae-\u02ff\u0370-\u0373\u0391-\u03a1\u03a3-\u03ff\u0400-\u0482\u048a-\u0523✓✗▲→›·├─└│⇄⇢‘’“”–—…≤≥×¶━╸≈−]*$/u;

/** So many code units are measured at once: measuring takes a time that grows with the square of them. */
const measuredAtOnce = 256;

/** How wide a text is, in columns. Long ones are measured in pieces, which may count a letter that is cut apart twice. */
export default function widthOf(text: string): number {
  if (plainLetters.test(text)) return text.length;

  // Loaded where it is called: it takes longer to start than all else that prints a result.
  const { default: stringWidth }: typeof import('string-width') = require('string-width');
  if (text.length <= measuredAtOnce) return stringWidth(text);

  let width = 0;
  for (let from = 0; from < text.length; from += measuredAtOnce)
    width += stringWidth(text.slice(from, from + measuredAtOnce));
  return width;
}
