import type { Json } from '../plain/json.ts';
import { list, listSome } from '../plain/words.ts';

/** The problem, as the end of a sentence that starts with its subject, and what to do about it. */
export interface Words {
  readonly says: string;
  readonly mend: string;
}

/** The question whether the nearest word was intended. */
export const didYou = (near: string | undefined): string | undefined => {
  if (near === undefined) return undefined;
  return `Did you mean \`${near}\`?`;
};
/** The advice for lengths of time that cannot be compared. */
export const inAll = 'Write it in the units of the limit.';

/** The shapes that values are stored in, and how to write one. */
export const shapes = {
  text: ['a text', 'Put the value in quotes to make it a text.'],
  markdown: ['Markdown text', 'Write it as text.'],
  keys: ['a group of keys', 'Write its fields by name, for example { opens: 10:00 }.'],
  number: ['a number', 'Write a number, without unit or quotes.'],
  integer: ['a whole number', 'Write a whole number, without unit or quotes.'],
} as const;

/** The words for the types of JSON values. */
export const types = {
  null: 'empty',
  list: 'a list',
  keys: 'a group of keys',
  string: 'a text',
  number: 'a number',
} as const;

/** A value and the bound that it breaks. */
export interface Bound {
  readonly value: Json;
  readonly bound: Json;
}
/** A size and the bound that it breaks. */
export interface CountData {
  readonly size: number;
  readonly bound: number;
}
/** The address of the target. */
export interface Target {
  readonly to: string;
}

/** The entries of some types, in words. */
export const entriesOf = (to: readonly string[]): string => {
  if (to.length > 0) return `entries of ${list(to, 'or')} alone`;
  return 'no entries';
};

/** `an entry of keeper or light` */
export const aTarget = (to: readonly string[]): string => `an entry of ${list(to, 'or')}`;

/** The other entries that point at a target, in words. */
export function pointingToo(otherEntries: readonly string[]): string {
  if (otherEntries.length === 0) return 'it does already';
  return `${listSome(otherEntries)} ${otherEntries.length === 1 ? 'does' : 'do'}`;
}
