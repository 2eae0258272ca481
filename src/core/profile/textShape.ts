/** A longer text is a text, and has no shape that says more. */
const longest = 40;

/**
 * The shape of a text: each digit is a `9`, a word an `a`, one in capitals an `A`, one that begins with a capital `Aa`; the
 * rest stands for itself. `2026-03-01` is `9999-99-99`, `GS-12` is `A-99`. `undefined` of a long text.
 */
export const textShape = (text: string): string | undefined => {
  if (text.length > longest) return undefined;
  return text.replace(/\p{L}[\p{L}\p{M}]*/gu, wordShape).replace(/\p{Nd}/gu, '9');
};

function wordShape(word: string): string {
  if (!/^\p{Lu}/u.test(word)) return 'a';
  if (word.length > 1 && /\p{Ll}/u.test(word)) return 'Aa';
  return 'A';
}
