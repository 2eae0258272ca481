import { type Entry, factUnder } from '../entry/entry.ts';
import { type Json, type JsonObject, put } from '../plain/json.ts';
import type { Type } from './link.ts';

/** The values of an entry's own fields: without what every entry has, with the prose under its field's name. */
export function fieldsOf(entry: Entry, type: Type | undefined): JsonObject {
  const { values, prose } = entry;
  const fields: Record<string, Json> = {};
  for (const key of Object.keys(values))
    if (factUnder(key, entry) === undefined && key !== '$schema') put(fields, key, values[key] ?? null);
  const body = type?.body;
  if (body && prose !== undefined) put(fields, body.name, prose);
  return fields;
}
