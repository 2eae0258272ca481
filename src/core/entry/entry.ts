import {
  type BuiltIn,
  type FactKeys,
  factsByKey,
  type Status,
  statuses,
  usualFactKeys,
} from '../definition/builtIn.ts';
import { compact, isList, type Json, type JsonObject } from '../plain/json.ts';

/** The address of an entry. */
export interface EntryAddress {
  readonly type: string;
  readonly id: string;
}

/** What a workspace says of all its entries, where that is not the usual. */
export interface EntrySettings {
  /** Under which keys they have what every entry has. */
  readonly factKeys?: FactKeys;
  /** How many steps one expression may take over an entry. */
  readonly expressionSteps?: number;
}

/** One entry as a store hands it over: its values as data, and the prose of a Markdown file apart from them. */
export interface Entry extends EntryAddress, EntrySettings {
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
export function statusOf(entry: Entry): Status {
  const { values } = entry;
  const { status: key } = ownFactKeys(entry);
  const status = key === undefined ? undefined : values[key];
  return statuses.find((name) => name === status) ?? 'published';
}

/** The settings that an entry got from its workspace. */
export const settingsOf = ({ factKeys, expressionSteps }: EntrySettings): EntrySettings =>
  compact({ factKeys, expressionSteps });

/** Under which keys an entry has what every entry has. */
export const ownFactKeys = ({ factKeys = usualFactKeys }: EntrySettings): FactKeys => factKeys;

/** What every entry has that an entry has under a key; `undefined` where the key is the one of a field. */
export const factUnder = (key: string, entry: EntrySettings): BuiltIn | undefined =>
  factsByKey(ownFactKeys(entry)).get(key);

/** Whether a value counts as none: nothing, an empty text, an empty list or a group without keys. */
export function isEmpty(value: Json | undefined): boolean {
  if (typeof value !== 'object') return value === undefined || value === '';
  if (value === null) return true;
  if (isList(value)) return value.length === 0;
  // Called for every value of every entry: the first key is enough, and no list of them is made.
  for (const _ in value) return false;
  return true;
}
