import { isId } from '../../core/definition/address.ts';
import { isList, isObject, type Json, type JsonObject } from '../../core/plain/json.ts';

/** A list or a map of entries in a file of JSON. */
export interface Collection {
  /** The keys that lead to it. */
  readonly way: readonly string[];
  readonly isMap: boolean;
  readonly entries: readonly JsonObject[];
}

/** What usually tells entries apart. */
export const usualIds = ['id', 'slug', 'key', '_id', 'uid', 'uuid', 'code', 'number', 'nr', 'no', 'name', 'title'];

/** Whether a key has another value in each of some entries, such as identifiers are. */
export function tellsApart(key: string, entries: readonly JsonObject[]): boolean {
  const values = entries.map((entry) => entry[key]);
  return (
    values.every((value) => (typeof value === 'string' && isId(value)) || typeof value === 'number') &&
    new Set(values).size === values.length
  );
}

/** Lists and maps are looked for behind so many keys. */
const deepest = 3;
/** Behind keys, so many things of one form make a map of entries. */
const fewestInside = 3;

/**
 * The lists and maps of entries in a file of JSON: the whole file, or what is in it under some keys, such as an export has
 * a list for each type.
 */
export function collectionsIn(data: Json): readonly Collection[] {
  if (isList(data)) return data.length > 0 && data.every(isObject) ? [{ way: [], isMap: false, entries: data }] : [];
  if (!isObject(data)) return [];
  const collection = mapAt(data, [], 1);
  if (collection && Object.keys(data).length > 1 && areAlike(collection.entries)) return [collection];
  const inside = collectionsBelow(data, []);
  if (inside.length > 0) return inside;
  return [collection].filter((item) => item !== undefined);
}

/** The keys of a file on the way to its collections that lead to none. */
export function keysBeside(
  data: Json,
  collections: readonly Collection[],
  way: readonly string[] = [],
): readonly string[] {
  const isOn = ({ way: wayKey }: Collection): boolean => way.every((key, index) => wayKey[index] === key);
  const alongTheWay = collections.filter(isOn);
  if (alongTheWay.length === 0) return [way.join('.')];
  if (!isObject(data) || alongTheWay.some((collection) => collection.way.length === way.length)) return [];
  return Object.entries(data).flatMap(([key, value]) => keysBeside(value, alongTheWay, [...way, key]));
}

function collectionsBelow(data: JsonObject, above: readonly string[]): readonly Collection[] {
  return Object.entries(data).flatMap(([key, value]): readonly Collection[] => {
    // A store is reported the way to a list with dots between its keys.
    if (key === '' || key.includes('.')) return [];

    const way = [...above, key];
    if (isList(value)) return isOfEntries(value) ? [{ way, isMap: false, entries: value }] : [];
    if (!isObject(value)) return [];

    const map = mapAt(value, way, fewestInside);
    if (map && areAlike(map.entries)) return [map];
    if (way.length < deepest) return collectionsBelow(value, way);
    return [];
  });
}

/** Whether the items of a list are things with identifiers. */
const isOfEntries = (items: readonly Json[]): items is readonly JsonObject[] =>
  items.length > 0 && items.every(isObject) && usualIds.some((key) => tellsApart(key, items as readonly JsonObject[]));

/** Things with keys under keys, each of which would be the identifier of one. */
function mapAt(data: JsonObject, way: readonly string[], fewest: number): Collection | undefined {
  const entries = Object.values(data);
  const isOne = entries.length >= fewest && entries.every(isObject) && Object.keys(data).every(isId);
  if (!isOne) return undefined;
  return { way, isMap: true, entries };
}

/** Whether most of some things have a key in common. */
function areAlike(entries: readonly JsonObject[]): boolean {
  const times = new Map<string, number>();
  for (const key of entries.flatMap((entry) => Object.keys(entry))) times.set(key, (times.get(key) ?? 0) + 1);
  return [...times.values()].some((some) => 2 * some > entries.length);
}
