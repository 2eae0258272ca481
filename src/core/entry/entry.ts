import { builtInKeys, type Status, statuses } from '../definition/builtIn.ts';
import { isList, type Json, type JsonObject } from '../plain/json.ts';

/** The address of an entry. */
export interface EntryAddress {
  readonly type: string;
  readonly id: string;
}

/** One entry as a store hands it over: its values as data, and the prose of a Markdown file apart from them. */
export interface Entry extends EntryAddress {
  /** All keys that are in the entry, with those that every entry may have (`status`, `created` …). */
  readonly values: JsonObject;
  /** The text below the front matter; only a Markdown file has one. */
  readonly prose?: string;
}

/** The address of an entry as a text: `lighthouse/skerry-point`. */
export const keyOf = ({ type, id }: EntryAddress): string => `${type}/${id}`;

/** The address that a key says. */
export function entryAddressOf(key: string): EntryAddress {
  const slash = key.indexOf('/');
  return { type: key.slice(0, slash), id: key.slice(slash + 1) };
}

/** An entry that does not say its status is published: it is kept to everything. */
export function statusOf({ values }: Entry): Status {
  const { status: key } = builtInKeys();
  const status = key === undefined ? undefined : values[key];
  return statuses.find((name) => name === status) ?? 'published';
}

/** Whether a value counts as none: nothing, an empty text, an empty list or a group without keys. */
export function isEmpty(value: Json | undefined): boolean {
  if (typeof value !== 'object') return value === undefined || value === '';
  if (value === null) return true;
  if (isList(value)) return value.length === 0;
  // Called for every value of every entry: the first key is enough, and no list of them is made.
  for (const _ in value) return false;
  return true;
}
