import { type BuiltIn, builtInFacts, builtInKeys } from '../definition/builtIn.ts';
import { keyOfField } from '../definition/fieldName.ts';
import { type Entry, statusOf } from '../entry/entry.ts';
import type { Field, Type } from '../model/link.ts';
import { fieldNamed, holdersOf } from '../model/nestedFields.ts';
import { titleOf } from '../model/traversal.ts';
import { type Json, type JsonObject, own } from '../plain/json.ts';
import { humanize } from '../plain/words.ts';
import { measureOf } from '../profile/fieldTally.ts';

/** A column of a list of entries: a field, or a fact that every entry has. */
export interface Column {
  /** Its name: that of the fact, or the path of the field. */
  readonly name: string;
  readonly label: string;
  /** The kind of its fields; `fact` where every entry has it. */
  readonly kind: string;
  /** The field in a type, where there is one. */
  readonly fieldIn: (type: string) => Field | undefined;
}

/** What entries are called, where types name them by different fields. */
export const titleColumn: Column = { name: 'titled', label: 'Called', kind: 'fact', fieldIn: () => undefined };

const isBuiltIn = (name: string): name is BuiltIn => (builtInFacts as readonly string[]).includes(name);

/** The column of a name, where some types have a field of it, or every entry has that fact. */
export function columnOf(name: string, types: readonly Type[]): Column | undefined {
  const fields = new Map(
    types.flatMap((type) => {
      const field = fieldNamed(type, name);
      return field ? [[type.name, field] as const] : [];
    }),
  );
  const [first] = fields.values();
  if (!first && !isBuiltIn(name)) return undefined;
  return {
    name,
    label: first?.label ?? humanize(name),
    kind: first?.kind.name ?? 'fact',
    fieldIn: (type) => fields.get(type),
  };
}

/** What is known of an entry while its cells are filled. */
interface Within {
  readonly type: Type;
  readonly fields: JsonObject;
  /** The language in which entries are called something. */
  readonly language: string;
}

/** What an entry has in a column; of what stands in objects of a list, all of it. */
export function cellIn(column: Column, entry: Entry, { type, fields, language }: Within): Json | undefined {
  const { name, fieldIn } = column;
  if (column === titleColumn) return titleOf(entry, type, language);
  if (fieldIn(entry.type)) {
    const values = holdersOf(type, name, fields).flatMap((holder) => {
      const value = own(holder, keyOfField(name));
      return value === undefined ? [] : [value];
    });
    return values.length > 1 ? values : values[0];
  }
  if (name === 'id' || name === 'type') return entry[name];
  if (name === 'status') return statusOf(entry);
  const key = isBuiltIn(name) ? builtInKeys()[name] : undefined;
  return key === undefined ? undefined : own(entry.values, key);
}

/** What an entry is ordered by in a column: a number where its kind measures values, else a text. */
export function rankIn(
  field: Field | undefined,
  value: Json | undefined,
  language: string,
): number | string | undefined {
  const said = field?.common.localized ? own((value ?? {}) as JsonObject, language) : value;
  const one = Array.isArray(said) ? said[0] : said;
  if (one === undefined || one === null) return undefined;
  if (typeof one === 'number') return one;
  // Lengths say how long texts are, not which comes first.
  const measure = field && field.kind.changed.pattern === undefined ? measureOf(field) : undefined;
  return measure?.of(one) ?? (typeof one === 'object' ? JSON.stringify(one) : String(one));
}
