import type { Field } from '../../model/link.ts';
import type { Json } from '../../plain/json.ts';
import type { Draft } from './draft.ts';
import { namesText, textLiteral } from './sqlText.ts';

/** When a value has to be there. */
export type Need = 'always' | 'published' | 'no';

/** Terms that are named one by one, where a field takes only some. */
export const mostNamed = 50;

/** A name behind a prefix, with `_` between. */
export const joined = (prefix: string, name: string): string => {
  if (prefix === '') return name;
  return `${prefix}_${name}`;
};

/** What a key of a row is called in the rows below it. */
export function keyBelow({ name }: Draft, key: string): string {
  if (key === 'id') return `${name}_id`;
  if (key !== 'position') return key;
  return `${lastWord(name)}_position`;
}

const lastWord = (name: string): string => name.slice(name.lastIndexOf('_') + 1);

/** When a column needs a value. */
export const needOf = (required: Field['common']['required']): Need => {
  if (required === 'published') return 'published';
  return (required === true && 'always') || 'no';
};

/** When a language has to be there of a field that has to. */
export function needIn(need: Need, language: true | 'published' | undefined): Need {
  if (language === undefined) return 'no';
  if (need === 'always' && language === 'published') return 'published';
  return need;
}

/** A default value in SQL; `undefined` for values that SQL has no literal for. */
export function defaultText(value: Json | undefined): string | undefined {
  if (typeof value === 'string') return textLiteral(value);
  if (typeof value === 'number' || typeof value === 'boolean') return String(value);
  return undefined;
}

/** How many of some columns have a value. Their order says nothing, and so is the same whatever the one of the fields is. */
export const howMany = (columns: readonly string[]): string => `num_nonnulls(${namesText(columns.toSorted())})`;
