import {
  at,
  changedAt,
  isObject,
  type Json,
  type JsonObject,
  put,
  renameKey,
  withKey,
  withoutKey,
} from '../plain/json.ts';
import { valueAt } from '../plain/relocate.ts';
import type { Edit } from './editOperation.ts';
import { movedByRewriting } from './moveByRewriting.ts';
import { inOneLine, oneLineOf } from './writeValue.ts';

/**
 * Edits JSON that is on one line and is written the way a program writes it: the same blanks everywhere, nothing said
 * in two ways. Then the text follows from the data, so that all edits are made on these and the text is written once.
 * @param dataBefore what the text was read as, where that was done before.
 * @returns `undefined` where it is written otherwise, or an edit is not that plain: it is edited piece by piece then.
 */
export function editOneLine(text: string, edits: readonly Edit[], dataBefore?: Json): string | undefined {
  const look = oneLineOf(text);
  const line = text.trimEnd();
  const data = look && (isObject(dataBefore) ? dataBefore : parsed(line));
  if (!look || !data || inOneLine(data, look) !== line) return undefined;

  let edited: JsonObject | undefined = data;
  for (const edit of edits) {
    edited = edited && plainly(edited, edit);
    // Nothing tells how a text without a key is set.
    if (edited && Object.keys(edited).length === 0) return undefined;
  }

  if (!edited || (look.padding !== '' && hasEmpty(edited))) return undefined;
  return inOneLine(edited, look) + text.slice(line.length);
}

/**
 * Whether JSON is on one line the way a program writes it, so that it can be written anew whatever it holds.
 * @param data what the text was read as.
 */
export function isOneLine(text: string, data: JsonObject): boolean {
  const look = oneLineOf(text);
  return look !== undefined && inOneLine(data, look) === text.trimEnd();
}

function parsed(text: string): JsonObject | undefined {
  try {
    const data = JSON.parse(text) as Json;
    if (isObject(data)) return data;
    return undefined;
  } catch {
    return undefined;
  }
}

function plainly(data: JsonObject, edit: Edit): JsonObject | undefined {
  switch (edit.do) {
    case 'rename': {
      const holder = at(data, edit.inside ?? []);
      if (!isObject(holder) || !Object.hasOwn(holder, edit.key) || !isFree(holder, edit.to)) return undefined;
      return changed(data, edit.inside ?? [], (keys) => renameKey(keys, edit.key, edit.to));
    }
    case 'remove': {
      const holder = at(data, edit.inside ?? []);
      if (!isObject(holder) || !Object.hasOwn(holder, edit.key)) return undefined;
      return changed(data, edit.inside ?? [], (keys) => withoutKey(keys, edit.key));
    }
    case 'set':
      return set(data, edit);
    case 'carry':
      return carried(data, edit);
    default:
      return undefined;
  }
}

function carried(data: JsonObject, edit: Extract<Edit, { do: 'carry' }>): JsonObject | undefined {
  if (valueAt(at(data, edit.inside ?? []), edit.from) === undefined) return undefined;
  const [put, cut] = movedByRewriting(data, edit);
  const holder = put && plainly(data, put);
  if (!holder || !cut || cut.do !== 'remove') return undefined;
  // Removed text may be inside text that was written anew, and is gone from there already.
  if (at(holder, [...(cut.inside ?? []), cut.key]) === undefined) return holder;
  return plainly(holder, cut);
}

function set(data: JsonObject, { path, value, after = [] }: Extract<Edit, { do: 'set' }>): JsonObject | undefined {
  const key = path.at(-1);
  if (at(data, path) !== undefined) return changedAt(data, path, () => value) as JsonObject;

  const holder = at(data, path.slice(0, -1));
  if (typeof key !== 'string' || !isObject(holder) || !isFree(holder, key)) return undefined;

  const anchor = after.find((key) => Object.hasOwn(holder, key));

  return changed(data, path.slice(0, -1), (keys) => {
    if (anchor === undefined) return withKey(keys, key, value);

    const values: Record<string, Json> = {};
    for (const name of Object.keys(keys)) {
      put(values, name, keys[name] ?? null);
      if (name === anchor) put(values, key, value);
    }

    return values;
  });
}

/** Whether a new key can be put where it is wanted: one that looks like a number always comes first. */
const isFree = (holder: JsonObject, key: string): boolean =>
  !Object.hasOwn(holder, key) && !/^\d+$/u.test(key) && key !== '__proto__';

const changed = (
  data: JsonObject,
  path: readonly (string | number)[],
  change: (keys: JsonObject) => JsonObject,
): JsonObject => changedAt(data, path, (keys) => (isObject(keys) ? change(keys) : keys)) as JsonObject;

const hasEmpty = (value: Json): boolean =>
  typeof value === 'object' &&
  value !== null &&
  (Array.isArray(value)
    ? value.some(hasEmpty)
    : Object.keys(value).length === 0 || Object.values(value).some(hasEmpty));
