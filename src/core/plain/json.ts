/** JSON values (RFC 8259) as read-only data. Everything the core works on is one of these. */
export type Json = null | boolean | number | string | readonly Json[] | JsonObject;
/** A JSON object, read-only. */
export interface JsonObject {
  readonly [key: string]: Json;
}

/** One step from a value to a value inside it: a key of an object or an index of a list. */
export type PathPart = string | number;
/** The keys and indexes that lead to a value. */
export type Path = readonly PathPart[];

/** Whether a value is a JSON object. */
export const isObject = (value: Json | undefined): value is JsonObject =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** `Array.isArray` for read-only lists. */
export const isList = (value: Json | undefined): value is readonly Json[] => Array.isArray(value);

/** The value of a key that the object itself has; inherited keys (`constructor`, `__proto__`) are no content. */
export const ownValue = <T>(object: Readonly<Record<string, T>>, key: string): T | undefined => {
  if (!Object.hasOwn(object, key)) return undefined;
  return object[key];
};

/** The value at a path, or `undefined` where the path leads nowhere. */
export function at(value: Json | undefined, path: Path): Json | undefined {
  let current = value;
  for (const part of path) {
    if (typeof part === 'number') current = isList(current) ? current[part] : undefined;
    else current = isObject(current) ? ownValue(current, part) : undefined;
  }

  return current;
}

/** A copy with the value at a path changed; the value itself where the path leads nowhere. */
export function changedAt(value: Json, path: Path, change: (old: Json) => Json): Json {
  const [part, ...rest] = path;
  if (part === undefined) return change(value);

  const inner = at(value, [part]);
  if (inner === undefined) return value;

  const changed = changedAt(inner, rest, change);
  if (isList(value)) return value.map((item, index) => (index === part ? changed : item));
  if (!isObject(value)) return value;
  return withKey(value, String(part), changed);
}

/** Whether two values say the same; the order of keys says nothing. */
export function equal(a: Json | undefined, b: Json | undefined): boolean {
  if (a === b) return true;
  if (isList(a)) return isList(b) && a.length === b.length && a.every((item, index) => equal(item, b[index]));
  if (!isObject(a) || !isObject(b)) return false;

  const keys = Object.keys(a);
  if (keys.length !== Object.keys(b).length) return false;

  for (const key of keys) if (!Object.hasOwn(b, key) || !equal(a[key], b[key])) return false;
  return true;
}

/**
 * A copy with one key set; a key that is there keeps its place. Never by assignment, so that a key called `__proto__` is a
 * key like any other.
 */
export function withKey<T>(object: Readonly<Record<string, T>>, key: string, value: T): Readonly<Record<string, T>> {
  return { ...object, [key]: value };
}

/** A copy without one key. */
export function withoutKey<T>(object: Readonly<Record<string, T>>, key: string): Readonly<Record<string, T>> {
  const { [key]: _, ...rest } = object;
  return rest;
}

/** A copy in which one key has another name, in the same place. */
export const renameKey = <T>(
  object: Readonly<Record<string, T>>,
  from: string,
  to: string,
): Readonly<Record<string, T>> => {
  const renamed: Record<string, T> = {};
  for (const name of Object.keys(object)) put(renamed, name === from ? to : name, object[name] as T);
  return renamed;
};

/** Sets a key of an object that is still being made; `__proto__` too is a key like any other. */
export function put<T>(object: Record<string, T>, key: string, value: T): void {
  if (key === '__proto__')
    Object.defineProperty(object, key, { value, enumerable: true, configurable: true, writable: true });
  else object[key] = value;
}

/** A copy of an object in which every value went through a function. */
export const mapValues = <T, U>(
  object: Readonly<Record<string, T>>,
  change: (value: T, key: string) => U,
): Readonly<Record<string, U>> => {
  const mapped: Record<string, U> = {};
  for (const key of Object.keys(object)) put(mapped, key, change(object[key] as T, key));
  return mapped;
};

/** JSON Pointer (RFC 6901, section 3). The empty path is the whole value: `''`. */
export const pointer = (path: Path): string =>
  path.map((part) => `/${String(part).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');

/** The keys of a JSON Pointer, or of one in a URI fragment (`#/a/b`) once that is decoded. */
export const parsePointer = (text: string): readonly string[] =>
  text
    .split('/')
    .slice(1)
    .map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~'));

/** The keys of a JSON Pointer as a path into a value: in a list they are indexes. */
export function pathIn(value: Json, keys: readonly string[]): Path {
  let current: Json | undefined = value;
  return keys.map((key) => {
    const part = isList(current) ? Number(key) : key;
    current = at(current, [part]);
    return part;
  });
}

type Optional<T> = { [K in keyof T]: undefined extends T[K] ? K : never }[keyof T];
type Compact<T> = string extends keyof T
  ? { readonly [K in keyof T]: Exclude<T[K], undefined> }
  : { readonly [K in Exclude<keyof T, Optional<T>>]: T[K] } & {
      readonly [K in Optional<T>]?: Exclude<T[K], undefined>;
    };

/** An object without the keys whose value is `undefined`. */
export function compact<T extends object>(object: T): Compact<T> {
  const copy: Record<string, unknown> = {};
  for (const [key, value] of Object.entries(object)) if (value !== undefined) put(copy, key, value);
  return copy as Compact<T>;
}

/** How many characters (UTF-16 code units) a value has when it is written as JSON without spaces. */
export const jsonLength = (value: Json): number => JSON.stringify(value).length;
