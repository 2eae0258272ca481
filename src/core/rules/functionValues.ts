import { compareText } from '../plain/compareText.ts';

/** The longest text that a function may make, in UTF-16 code units: nothing grows without bound. */
const longest = 1000000;

/** A text, refused if it is too long for an expression. */
export function bounded(text: string): string {
  if (text.length > longest) throw new Error(`the text would have more than ${longest} characters`);
  return text;
}

/** A text in lower case without accents. */
export const folded = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/\p{M}+/gu, '')
    .normalize('NFC');

/** A text that is equal for equal values. */
export const keyOf = (value: unknown): string =>
  JSON.stringify(value, (_key, value: unknown) => (typeof value === 'bigint' ? `${value}n` : value));

const asNumber = (value: unknown): number => Number(value);

const isNumber = (value: unknown): boolean => typeof value === 'number' || typeof value === 'bigint';

/** A list in order: numbers by size, texts by code point. */
export function sorted(list: readonly unknown[]): readonly unknown[] {
  if (list.every(isNumber)) return [...list].sort((a, b) => asNumber(a) - asNumber(b));
  return [...list].sort((a, b) => compareText(String(a), String(b)));
}

/** The item at an index. @throws Error outside the list. */
export function itemOf(list: readonly unknown[], index: number): unknown {
  const item = list[index];
  if (item === undefined) throw new Error('the list is empty');
  return item;
}

/** A number of decimal places. @throws Error outside 0 to 15. */
export function placesIn(places: bigint): number {
  const number = Number(places);
  if (number < 0 || number > 15) throw new Error('a number has 0 to 15 decimal places here');
  return number;
}
