/**
 * What counts as no value, wherever it is asked: by what is required, by rules and expressions (`has`), by conversions
 * and by counts. Nothing, an empty text, an empty list and a group without keys are none; but for a field that says that
 * its value may be empty: there, only nothing is none.
 */
import { isEmpty } from '../entry/entry.ts';
import { isObject, type Json } from '../plain/json.ts';
import type { Field } from './link.ts';

type Common = Pick<Field, 'common'>;

/** Whether a value of a field, in one language or as a whole, counts as none. */
export const isNone = ({ common }: Common, value: Json | undefined): boolean =>
  common.mayBeEmpty ? value === undefined || value === null : isEmpty(value);

/**
 * The value of a field as it counts: without languages in which there is none, and nothing where there is none at all. A
 * field that differs by language has a value where one of them has.
 */
export function countedValue(field: Common, value: Json | undefined): Json | undefined {
  if (value === undefined) return undefined;
  if (!field.common.localized || !isObject(value)) return isNone(field, value) ? undefined : value;
  if (Object.values(value).every((one) => !isNone(field, one))) return isEmpty(value) ? undefined : value;
  const said = Object.entries(value).filter(([, one]) => !isNone(field, one));
  return said.length > 0 ? Object.fromEntries(said) : undefined;
}
