import { changedAt, isObject, type Json, type JsonObject, ownValue, type Path, withKey, withoutKey } from './json.ts';

/** The keys that lead from outside in to a value: no list is on the way. */
export type Keys = readonly string[];

/** The value that some keys lead to. */
export const valueAt = (data: Json | undefined, keys: Keys): Json | undefined =>
  keys.reduce<Json | undefined>((current, key) => (isObject(current) ? ownValue(current, key) : undefined), data);

/** The data after the value of one place moved to another; groups of keys that are left empty go, others come. */
export function relocated(data: JsonObject, from: Keys, to: Keys): JsonObject {
  const value = valueAt(data, from);
  if (value === undefined) return data;
  return put(taken(data, from), to, value);
}

/** The same inside the value at a path. */
export const relocatedIn = (data: JsonObject, path: Path, from: Keys, to: Keys): JsonObject =>
  changedAt(data, path, (keys) => (isObject(keys) ? relocated(keys, from, to) : keys)) as JsonObject;

function taken(data: JsonObject, [key = '', ...deeper]: Keys): JsonObject {
  const inside = ownValue(data, key);
  if (deeper.length === 0 || !isObject(inside)) return withoutKey(data, key);
  const remaining = taken(inside, deeper);
  if (Object.keys(remaining).length === 0) return withoutKey(data, key);
  return withKey(data, key, remaining);
}

function put(data: JsonObject, [key = '', ...deeper]: Keys, value: Json): JsonObject {
  if (deeper.length === 0) return withKey(data, key, value);
  const inside = ownValue(data, key);
  return withKey(data, key, put(isObject(inside) ? inside : {}, deeper, value));
}

/** The longest part of a way from outside in that leads to a group of keys already. */
export function groupOnTheWay(data: JsonObject, keys: Keys): Keys {
  let length = 0;
  while (length < keys.length - 1 && isObject(valueAt(data, keys.slice(0, length + 1)))) length += 1;
  return keys.slice(0, length);
}

/** The keys of the outermost group that has nothing but what some keys lead to; the keys themselves where none has. */
export function loneOnTheWay(data: JsonObject, keys: Keys): Keys {
  let length = keys.length;
  while (length > 1) {
    const group = valueAt(data, keys.slice(0, length - 1));
    if (!isObject(group) || Object.keys(group).length > 1) break;
    length -= 1;
  }

  return keys.slice(0, length);
}
