import { type BuiltIn, builtInFacts } from '../definition/builtIn.ts';
import { keyOfField } from '../definition/fieldName.ts';
import { type Entry, ownFactKeys, statusOf } from '../entry/entry.ts';
import { valueIn } from '../model/languages.ts';
import type { Field, Model, Type } from '../model/link.ts';
import { fieldNamed, fieldsWithin, holdersOf } from '../model/nestedFields.ts';
import { titleRead } from '../model/traversal.ts';
import { isList, isObject, type Json, type JsonObject, ownValue } from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';
import { humanize } from '../plain/words.ts';
import { measureOf } from '../profile/fieldTally.ts';

/** A column of a list of entries: a field, or a fact that every entry has. */
export interface Column {
  /** Its name: the one of the fact, or the path of the field. */
  readonly name: string;
  readonly label: string;
  readonly isNumber: boolean;
  /** How well its values tell entries apart at a glance: see the kinds. */
  readonly glance: number;
  /** The paths whose keys are columns of their own in a table: of objects that are there once, and of languages. */
  readonly opened: readonly string[];
  /** The field in a type, where there is one. */
  readonly fieldIn: (type: string) => Field | undefined;
}

/** Facts that every entry has tell about as much as a choice of few. */
const fact = { isNumber: false, glance: 0.6, opened: [], fieldIn: () => undefined };

/** What entries are called, where types name them by different fields. No field can have that name. */
export const titleColumn: Column = { ...fact, name: 'what it is called', label: 'Called' };

const isBuiltIn = (name: string): name is BuiltIn => (builtInFacts as readonly string[]).includes(name);

/** The column of a name, where some types have a field of it, or every entry has that fact. */
export function columnOf(name: string, types: readonly Type[]): Column | undefined {
  const fields = new Map(
    types.flatMap((type) => {
      const field = fieldNamed(type, name);
      if (!field) return [];
      return [[type.name, field] as const];
    }),
  );
  const [first] = fields.values();
  if (!first) return isBuiltIn(name) ? { ...fact, name, label: humanize(name) } : undefined;
  return {
    name,
    label: first.label,
    isNumber: first.kind.cel === 'int' || first.kind.cel === 'double',
    glance: first.kind.glance,
    opened: openedIn(first),
    fieldIn: (type) => fields.get(type),
  };
}

/** What a table reads again by the columns that its model knows: anything else is in one cell as it is. */
const openedIn = (field: Field): readonly string[] =>
  [field, ...fieldsWithin(field.fields)].flatMap(({ name, kind, common }) => {
    if (common.localized) return name;
    if (kind.nests && !common.many) return name;
    return [];
  });

/** Facts about an entry for filling its cells. */
interface Within {
  readonly type: Type;
  readonly fields: JsonObject;
  readonly model: Model;
}

/** The value of an entry in a column; for objects in lists, all values. */
export function cellIn(column: Column, entry: Entry, { type, fields, model }: Within): Json | undefined {
  const { name, fieldIn } = column;
  if (column === titleColumn) return titleRead(entry, type, model);
  if (fieldIn(entry.type)) {
    // An outer field has one holder, the entry itself.
    if (!name.includes('.')) return ownValue(fields, name);

    const values = holdersOf(type, name, fields).flatMap((holder) => {
      const value = ownValue(holder, keyOfField(name));
      if (value === undefined) return [];
      return [value];
    });

    if (values.length > 1) return values;
    return values[0];
  }
  if (name === 'id' || name === 'type') return entry[name];
  if (name === 'status') return statusOf(entry);

  const key = isBuiltIn(name) ? ownFactKeys(entry)[name] : undefined;

  if (key === undefined) return undefined;
  return ownValue(entry.values, key);
}

/**
 * What an entry is ordered by in a column: the place of a choice or a term among all, a number where its kind measures
 * values, else a text. Of several values the first counts; of several languages the one that is read.
 */
export function rankIn(
  field: Field | undefined,
  value: Json | undefined,
  { readingOrder, taxonomies }: Pick<Model, 'readingOrder' | 'taxonomies'>,
): number | string | undefined {
  const version = field?.common.localized && isObject(value) ? valueIn(value, readingOrder)?.value : value;
  const first = isList(version) ? version[0] : version;
  if (first === undefined || first === null) return undefined;
  if (!field || typeof first === 'number') return typeof first === 'number' ? first : String(first);

  const { kind, options } = field;
  const used = kind.term?.(first, options);
  const taxonomy = used && taxonomies.get(used.taxonomy);
  const place = used && taxonomy ? placesOf(taxonomy.terms).get(used.term) : membersOf(field).get(String(first));
  if (place !== undefined) return place;

  const measure = measureOf(field);
  const size = measure?.isLength ? undefined : measure?.of(first);

  return size ?? (isObject(first) || isList(first) ? JSON.stringify(first) : String(first));
}

const placesOf = onceFor(
  (terms: ReadonlyMap<string, unknown>): ReadonlyMap<string, number> =>
    new Map([...terms.keys()].map((name, index) => [name, index])),
);

const membersOf = onceFor(
  ({ kind, options }: Field): ReadonlyMap<string, number> =>
    new Map(kind.members(options).map(({ name }, index) => [name, index])),
);
