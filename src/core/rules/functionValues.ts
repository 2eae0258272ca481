import { compareText } from '../plain/compareText.ts';

/** The longest text that a function may make, in UTF-16 code units: nothing grows without bound. */
const longest = 1000000;

export function bounded(text: string): string {
  if (text.length > longest) throw new Error(`the text would have more than ${longest} characters`);
  return text;
}

export const folded = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/\p{M}+/gu, '')
    .normalize('NFC');

export const keyOf = (value: unknown): string =>
  JSON.stringify(value, (_key, value: unknown) => (typeof value === 'bigint' ? `${value}n` : value));

const asNumber = (value: unknown): number => Number(value);

const isNumber = (value: unknown): boolean => typeof value === 'number' || typeof value === 'bigint';

export function sorted(list: readonly unknown[]): readonly unknown[] {
  if (list.every(isNumber)) return [...list].sort((a, b) => asNumber(a) - asNumber(b));
  return [...list].sort((a, b) => compareText(String(a), String(b)));
}

export function itemOf(list: readonly unknown[], index: number): unknown {
  const item = list[index];
  if (item === undefined) throw new Error('the list is empty');
  return item;
}

export function placesIn(places: bigint): number {
  const number = Number(places);
  if (number < 0 || number > 15) throw new Error('a number has 0 to 15 decimal places here');
  return number;
}
