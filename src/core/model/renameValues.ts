import type { ModelDoc } from '../definition/model.ts';
import type { Rename } from '../definition/rename.ts';
import type { Elsewhere } from '../kinds/kindParts.ts';
import { equal, type Json, type JsonObject, ownValue } from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';
import { type Field, link, linkField, type Type } from './link.ts';
import { fieldsWithin, formOf, siblingsOf } from './nestedFields.ts';
import { mapLeaves } from './traversal.ts';

/** A rename of a term, and the same in each taxonomy that borrows it. */
export function withBorrowers(rename: Rename, model: ModelDoc): readonly Rename[] {
  if (rename.what !== 'term') return [rename];
  const lent = Object.entries(model.taxonomies).filter(
    ([name, { borrows }]) =>
      borrows && link(model).taxonomies.get(name)?.terms.get(rename.from)?.borrowedFrom === rename.taxonomy,
  );

  return [rename, ...lent.map(([taxonomy]) => ({ ...rename, taxonomy }))];
}

type Linked = NonNullable<ReturnType<typeof linkField>>;

/** A value after a rename of a type, choice, term or nested field. */
export function renameInValue(value: Json, field: Linked, rename: Rename): Json {
  return mapLeaves(field, value, (item, { kind, options, type, name }) =>
    kind.renameInValue ? kind.renameInValue(item, options, rename, { type, field: name }) : item,
  );
}

/**
 * Compiles which values of an entry a rename touches, as they are afterwards; field names are those from before.
 * @param model the model before the rename.
 */
export function valueRenamer(
  model: ModelDoc,
  rename: Rename,
): (fields: JsonObject, type: Type) => ReadonlyMap<string, Json> {
  const renames = withBorrowers(rename, model);
  const touched = onceFor(({ fields }: Type) => [...fields.values()].filter(mayNameThings));
  return (fields, type) => renamedValues(fields, touched(type), renames);
}

/** Whether values of a field, or of one inside it, name something of the model or an entry. */
const mayNameThings = (field: Field): boolean =>
  [field, ...fieldsWithin(field.fields)].some(({ kind }) => kind.renameInValue !== undefined);

function renamedValues(
  fields: JsonObject,
  touched: readonly Field[],
  renames: readonly Rename[],
): ReadonlyMap<string, Json> {
  const changed = new Map<string, Json>();
  for (const field of touched) {
    const value = ownValue(fields, field.name);
    if (value === undefined || value === null) continue;
    const after = renames.reduce<Json>((result, rename) => renameInValue(result, field, rename), value);
    if (!equal(after, value)) changed.set(field.name, after);
  }

  return changed;
}

/** The values of an entry that point at entries which have other addresses now, as they are then. */
export function relocatedValues(fields: JsonObject, type: Type, elsewhere: Elsewhere): ReadonlyMap<string, Json> {
  const changed = new Map<string, Json>();
  for (const field of type.fields.values()) {
    const value = ownValue(fields, field.name);
    if (value === undefined || value === null) continue;

    const after = mapLeaves(
      field,
      value,
      (item, { kind, options }) => kind.relocated?.(item, elsewhere, options) ?? item,
    );
    if (!equal(after, value)) changed.set(field.name, after);
  }

  return changed;
}

/** The names that things of the same sort have in a model, among which a new name has to be free. */
export function namesBeside(model: ModelDoc, rename: Rename): readonly string[] {
  switch (rename.what) {
    case 'type':
      return Object.keys(model.types);
    case 'field':
      return Object.keys(siblingsOf(ownValue(model.types, rename.type)?.fields ?? {}, rename.from));
    case 'taxonomy':
      return Object.keys(model.taxonomies);
    case 'term':
      return Object.keys(ownValue(model.taxonomies, rename.taxonomy)?.terms ?? {});
    case 'choice': {
      const definition = formOf(ownValue(model.types, rename.type)?.fields ?? {}, rename.field);
      const field = definition && linkField(rename, rename.field, definition);
      if (!field) return [];
      return field.kind.members(field.options).map(({ name }) => name);
    }
  }
}
