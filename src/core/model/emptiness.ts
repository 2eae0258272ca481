/**
 * What counts as no value: for `required`, by rules and expressions (`has`), by conversions
 * and by counts. Nothing, an empty text, an empty list and a group without keys are none; but for a field that says that
 * its value may be empty: there, only nothing is none.
 */
import { isEmpty } from '../entry/entry.ts';
import type { ModelContext } from '../kinds/kindParts.ts';
import { takesEmpty } from '../kinds/shape.ts';
import { isList, isObject, type Json } from '../plain/json.ts';
import type { Field } from './link.ts';

type Common = Pick<Field, 'common'>;

/** Whether a value of a field, in one language or as a whole, counts as none. */
export const isNone = ({ common }: Common, value: Json | undefined): boolean => {
  if (common.mayBeEmpty) return value === undefined || value === null;
  return isEmpty(value);
};

/**
 * The value of a field as it counts: without languages in which there is none, and nothing where there is none at all. A
 * field that differs by language has a value where one of them has.
 */
export function countedValue(field: Common, value: Json | undefined): Json | undefined {
  if (value === undefined) return undefined;
  if (!field.common.localized || !isObject(value)) return isNone(field, value) ? undefined : value;
  if (Object.values(value).every((value) => !isNone(field, value))) return isEmpty(value) ? undefined : value;
  const filled = Object.entries(value).filter(([, value]) => !isNone(field, value));
  if (filled.length > 0) return Object.fromEntries(filled);
  return undefined;
}

/**
 * Whether a value stays as it is where its field takes another form: it counts as none before and after, and the new
 * form takes it. An empty text where a list belongs goes: what reads the entry would trip over it.
 */
export function staysAsNone(oldField: Field, newField: Field, value: Json, context: ModelContext): boolean {
  if (countedValue(oldField, value) !== undefined || countedValue(newField, value) !== undefined) return false;

  const versions = newField.common.localized && isObject(value) ? Object.values(value) : [value];
  const { many } = newField.common;
  const shape = newField.kind.stores(newField.options, context);

  return versions.every(
    (version) =>
      version === null ||
      (many !== undefined && isList(version)) ||
      ((many?.orOne ?? many === undefined) && takesEmpty(shape, version)),
  );
}
