/** Small pieces of English that messages share, so that they all count and list in the same way. */

/** `1 entry`, `4 entries`, `1,204 entries`. */
export const count = (number: number, singular: string, many = `${singular}s`): string =>
  `${groupThousands(number)} ${number === 1 ? singular : many}`;

/** `1204` as `1,204`: digits in groups of three, the decimal part as it is. */
export function groupThousands(number: number): string {
  const [integer = '', decimals] = String(number).split('.');
  const grouped = integer.replace(/\B(?=(\d{3})+$)/gu, ',');
  if (decimals === undefined) return grouped;
  return `${grouped}.${decimals}`;
}

/** `a`, `a and b`, `a, b and c`. */
export function list(items: readonly string[], joint = 'and'): string {
  if (items.length < 2) return items.join('');
  return `${items.slice(0, -1).join(', ')} ${joint} ${items.at(-1)}`;
}

/** `There is a.`, `There are a and b.`; nothing where there is none, so that anyone who asks says what to do instead. */
export function thereAre(items: readonly string[], most = Number.POSITIVE_INFINITY): string | undefined {
  if (items.length === 0) return undefined;
  return `There ${items.length === 1 ? 'is' : 'are'} ${listSome(items, most)}.`;
}

/** The same of the first few, and how many more there are. */
export const listSome = (items: readonly string[], most = 3, joint = 'and'): string => {
  if (items.length <= most) return list(items, joint);
  return `${items.slice(0, most).join(', ')} ${joint} ${items.length - most} more`;
};

/** `lighthouse` as `Lighthouse`, `focalHeight` as `Focal height`: a name as a person would write it. */
export function humanize(name: string): string {
  const words = name
    .replace(/([a-z0-9])([A-Z])/gu, '$1 $2')
    .replaceAll('-', ' ')
    .toLowerCase();
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** The usual English plural of a word: enough for a name that was given none. */
export function pluralize(word: string): string {
  if (/[^aeiou]y$/u.test(word)) return `${word.slice(0, -1)}ies`;
  if (/(?:s|x|z|ch|sh)$/u.test(word)) return `${word}es`;
  return `${word}s`;
}

/** A value as it is in a sentence: texts in quotes, shortened to `limit` characters. */
export function quote(value: unknown, limit = 40): string {
  const text = typeof value === 'string' ? `“${value.replace(/\s+/gu, ' ')}”` : (JSON.stringify(value) ?? 'nothing');
  const letters = [...text];
  if (letters.length <= limit) return text;
  return `${letters.slice(0, limit - 1).join('')}…${typeof value === 'string' ? '”' : ''}`;
}

/** `3–8`, `≥ 3`, `≤ 8`, or nothing. */
export function range(min: string | number | undefined, max: string | number | undefined): string {
  if (min !== undefined && max !== undefined) return min === max ? String(min) : `${min}–${max}`;
  if (min !== undefined) return `≥ ${min}`;
  if (max === undefined) return '';
  return `≤ ${max}`;
}

/** Bounds of the counts: `≥ 1 item`, `2–8 items`; nothing where there are none. */
export function rangeOf(min: number | undefined, max: number | undefined, singular: string): string {
  const bounds = range(min, max);
  const isOne = (max ?? min) === 1;
  if (bounds === '') return '';
  return `${bounds} ${singular}${isOne ? '' : 's'}`;
}

/** The first letter large. */
export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** Sentences one after another; those that are not there are left out. */
export const sentences = (...texts: readonly (string | undefined)[]): string =>
  texts.filter((text) => text !== undefined && text !== '').join(' ');
