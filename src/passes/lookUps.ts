import { valuesLookedUp } from '../core/check/lookedUpValues.ts';
import { keyOf } from '../core/entry/entry.ts';
import type { Model } from '../core/model/link.ts';
import type { JsonObject } from '../core/plain/json.ts';
import { type Look, lookInto } from '../core/rules/lookUp.ts';
import type { EntryStore } from '../stores/store.ts';
import { entriesPass } from './facts.ts';
import { walk } from './walk.ts';

/**
 * Reads what expressions look up in the entries of a store, so that they can be computed while these are read again.
 * @param names the names of the fields by type; where there are none, nothing is read.
 */
export async function readLookUps(
  store: EntryStore,
  { types, context }: Model,
  names: ReadonlyMap<string, ReadonlySet<string>>,
): Promise<Look | undefined> {
  if (names.size === 0) return undefined;

  const values = new Map<string, JsonObject>();
  const pass = entriesPass((entry) => {
    const [type, wantedFields] = [types.get(entry.type), names.get(entry.type)];
    if (type && wantedFields) values.set(keyOf(entry), valuesLookedUp(entry, type, wantedFields));
  });
  await walk(store, [pass]);
  return lookInto(values, context.acceptedAs);
}
