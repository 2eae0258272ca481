import type { Entry } from '../core/entry/entry.ts';
import type { Operation } from '../core/migration/operation.ts';
import { changedAt, isObject, type Json, type JsonObject, renameKey, withKey, withoutKey } from '../core/plain/json.ts';
import { relocated } from '../core/plain/relocate.ts';

/** An entry after an operation, as data; nothing where it was deleted. */
export function entryAfterOperation(entry: Entry | undefined, operation: Operation): Entry | undefined {
  if (!entry || operation.do === 'delete') return undefined;

  const change = (path: readonly (string | number)[], edit: (keys: JsonObject) => JsonObject): Entry => ({
    ...entry,
    values: changedAt(entry.values, path, (keys): Json => (isObject(keys) ? edit(keys) : keys)) as JsonObject,
  });

  switch (operation.do) {
    case 'rename':
      return change(operation.inside, (keys) => renameKey(keys, operation.key, operation.to));
    case 'remove':
      return change(operation.inside, (keys) => withoutKey(keys, operation.key));
    case 'set': {
      const last = operation.path.at(-1);
      if (typeof last === 'string')
        return change(operation.path.slice(0, -1), (keys) => withKey(keys, last, operation.value));
      return { ...entry, values: changedAt(entry.values, operation.path, () => operation.value) as JsonObject };
    }
    case 'carry':
      return change(operation.inside, (keys) => relocated(keys, operation.from, operation.to));
    case 'move':
      return { ...entry, type: operation.type };
    case 'prose': {
      const { prose: _, ...rest } = entry;
      if (operation.value === undefined) return rest;
      return { ...rest, prose: operation.value };
    }
  }
}
