import { type Entry, ownFactKeys } from '../../entry/entry.ts';
import type { Type } from '../../model/link.ts';
import type { JsonObject } from '../../plain/json.ts';

/** The values of an entry as they are kept: without its type and its identifier, with its text by the name of its field. */
export function valuesOf(entry: Entry, type: Type | undefined): JsonObject {
  const { id, type: typeKey } = ownFactKeys(entry);
  const hiddenKeys = new Set([id, typeKey, '$schema']);
  const ownKeys = Object.entries(entry.values).filter(([key]) => !hiddenKeys.has(key) || type?.fields.has(key));
  const body = type?.body;
  return Object.fromEntries(body && entry.prose !== undefined ? [...ownKeys, [body.name, entry.prose]] : ownKeys);
}
