import { builtInUnder } from '../definition/builtIn.ts';
import type { Entry } from '../entry/entry.ts';
import type { JsonObject } from '../plain/json.ts';
import type { Type } from './link.ts';

/** The values of an entry's own fields: without what every entry has, with the prose under its field's name. */
export function fieldsOf(entry: Entry, type: Type | undefined): JsonObject {
  const own = Object.entries(entry.values).filter(([key]) => builtInUnder(key) === undefined && key !== '$schema');
  const body = type?.body;
  if (body && entry.prose !== undefined) own.push([body.name, entry.prose]);
  return Object.fromEntries(own);
}
