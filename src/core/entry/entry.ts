import {
  type BuiltIn,
  type FactKeys,
  factsByKey,
  type Status,
  statuses,
  usualFactKeys,
} from '../definition/builtIn.ts';
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
  /** Under which of them it has what every entry has; the usual keys where it does not say. */
  readonly factKeys?: FactKeys;
  /** How many steps one expression may take over it; the usual number where it does not say. */
  readonly expressionSteps?: number;
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
export function statusOf({ values, factKeys = usualFactKeys }: Entry): Status {
  const { status: key } = factKeys;
  const status = key === undefined ? undefined : values[key];
  return statuses.find((name) => name === status) ?? 'published';
}

/** What every entry has that an entry has under a key; `undefined` where the key is the one of a field. */
export const factUnder = (key: string, { factKeys = usualFactKeys }: Pick<Entry, 'factKeys'>): BuiltIn | undefined =>
  factsByKey(factKeys).get(key);

/** Whether a value counts as none: nothing, an empty text, an empty list or a group without keys. */
export function isEmpty(value: Json | undefined): boolean {
  if (typeof value !== 'object') return value === undefined || value === '';
  if (value === null) return true;
  if (isList(value)) return value.length === 0;
  // Called for every value of every entry: the first key is enough, and no list of them is made.
  for (const _ in value) return false;
  return true;
}
