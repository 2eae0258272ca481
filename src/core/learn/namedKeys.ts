import { type FactKeys, factsByKey } from '../definition/builtIn.ts';
import { celName, fieldNameFrom, fitKeys } from '../definition/fieldName.ts';
import { EntryStatistics, type GatheredEntries, type GatheredType } from './entryStatistics.ts';

/** The statistics in all stores, by the names that its fields can have. */
export interface NamedEntries {
  readonly seen: EntryStatistics;
  /** The keys that no field can be called, by the names of the fields that they hold. */
  readonly keys: ReadonlyMap<string, string>;
  /** Those that entries in a store have, by the name of the store. */
  readonly inStores: ReadonlyMap<string, ReadonlyMap<string, string>>;
}

/** Joins the statistics in several stores. A key that no field can be called gets the name of one, everywhere the same. */
export function named(stores: ReadonlyMap<string, EntryStatistics>, factKeys: FactKeys): NamedEntries {
  const [only, ...rest] = stores.values();
  const names = namesFor(
    [...stores.values()].flatMap(({ types }) => [...types.values()].map(({ keys }) => [...keys.keys()])),
    factKeys,
  );
  const keys = new Map([...names].map(([key, name]) => [name, key]));
  const inStores = new Map(
    [...stores].map(([store, { types }]) => [
      store,
      new Map([...keys].filter(([, key]) => [...types.values()].some((type) => type.keys.has(key)))),
    ]),
  );
  if (only && rest.length === 0 && names.size === 0) return { seen: only, keys, inStores };

  const seenEntries = new EntryStatistics();
  for (const store of stores.values()) seenEntries.take(renamed(store.gathered(), names));

  return { seen: seenEntries, keys, inStores };
}

/** A name for each key that no field can be called, or not beside the others of its type. @param types the keys of each. */
function namesFor(types: readonly (readonly string[])[], factKeys: FactKeys): ReadonlyMap<string, string> {
  const unfit = new Set(
    types.flatMap((keys) => {
      const fit = fitKeys(keys);
      return keys.filter((key) => !fit.has(key));
    }),
  );
  // Names that differ in capitals alone are one to a reader.
  const usedNames = new Set(
    [...types.flat(), ...factsByKey(factKeys).keys(), 'id', 'type'].map((key) => celName(key).toLowerCase()),
  );

  return new Map(
    [...unfit].map((key) => {
      const name = fieldNameFrom(key);
      let free = name;
      for (let number = 2; usedNames.has(free.toLowerCase()); number += 1) free = `${name}${number}`;
      usedNames.add(free.toLowerCase());
      return [key, free];
    }),
  );
}

type Names = ReadonlyMap<string, string>;

const renamed = ({ types, ids }: GatheredEntries, names: Names): GatheredEntries => {
  if (names.size === 0) return { types, ids };
  return { types: new Map([...types].map(([type, gatheredType]) => [type, typeRenamed(gatheredType, names)])), ids };
};

function typeRenamed({ keys, lists, gates, sample, ...rest }: GatheredType, names: Names): GatheredType {
  const named = <V>(byKey: ReadonlyMap<string, V>): ReadonlyMap<string, V> =>
    new Map([...byKey].map(([key, value]) => [names.get(key) ?? key, value]));
  return {
    ...rest,
    keys: named(keys),
    lists: named(lists),
    gates: {
      ...gates,
      keys: gates.keys.map((key) => names.get(key) ?? key),
      gates: named(gates.gates),
      open: new Set([...gates.open].map((key) => names.get(key) ?? key)),
    },
    sample: sample.map((entry) => ({
      ...entry,
      values: Object.fromEntries(named(new Map(Object.entries(entry.values)))),
    })),
  };
}
