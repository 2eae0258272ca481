import { type Entry, keyOf } from '../../core/entry/entry.ts';
import type { Operation } from '../../core/migration/operation.ts';
import {
  changedAt,
  isObject,
  type Json,
  type JsonObject,
  renameKey,
  withKey,
  withoutKey,
} from '../../core/plain/json.ts';
import { relocated } from '../../core/plain/relocate.ts';
import { textStart } from '../../core/source/yaml.ts';
import type { EntryChange, EntryStore, Stored } from '../store.ts';

const name = 'memory';
/** A store that keeps entries in memory: for trying what is done with entries, without a file. */
export function memoryStore(entries: readonly Entry[]): EntryStore {
  let kept = entries;
  const storedOf = (entry: Entry): Stored => ({
    place: { store: name, file: keyOf(entry) },
    version: JSON.stringify(entry),
    entry,
  });

  return {
    can: { positions: false, ownTransactions: true, restoreBytes: false },
    parts: async () => [{ store: name }],
    read: async function* () {
      for (const entry of kept) yield storedOf(entry);
    },
    get: async (address) => kept.filter((entry) => keyOf(entry) === keyOf(address)).map(storedOf)[0],
    locate: async () => textStart,
    attempt: async (change) => {
      changed(kept, change);
    },
    wholeFile: () => undefined,
    linesOf: () => undefined,
    begin: () => {
      const before = kept;
      let after = kept;
      return {
        change: async (change) => {
          after = changed(after, change);
        },
        prepare: async () => undefined,
        own: {
          commit: async () => {
            kept = after;
          },
          rollback: async () => {
            kept = before;
          },
        },
      };
    },
  };
}

function changed(entries: readonly Entry[], { of, operations = [], added = [] }: EntryChange): readonly Entry[] {
  if (of && !entries.some((entry) => keyOf(entry) === keyOf(of.entry)))
    throw new Error(`there is no entry ${keyOf(of.entry)}`);
  const edited = entries.flatMap((entry) =>
    of && keyOf(entry) === keyOf(of.entry) ? [operations.reduce<Entry | undefined>(operated, entry)] : [entry],
  );
  return [...edited.filter((entry) => entry !== undefined), ...added];
}

function operated(entry: Entry | undefined, operation: Operation): Entry | undefined {
  if (!entry || operation.do === 'delete') return undefined;
  const change = (path: readonly (string | number)[], how: (keys: JsonObject) => JsonObject): Entry => ({
    ...entry,
    values: changedAt(entry.values, path, (keys): Json => (isObject(keys) ? how(keys) : keys)) as JsonObject,
  });
  switch (operation.do) {
    case 'rename':
      return change(operation.inside, (keys) => renameKey(keys, operation.key, operation.to));
    case 'remove':
      return change(operation.inside, (keys) => withoutKey(keys, operation.key));
    case 'set': {
      const last = operation.path.at(-1);
      return typeof last === 'string'
        ? change(operation.path.slice(0, -1), (keys) => withKey(keys, last, operation.value))
        : { ...entry, values: changedAt(entry.values, operation.path, () => operation.value) as JsonObject };
    }
    case 'carry':
      return { ...entry, values: relocated(entry.values, operation.from, operation.to) };
    case 'move':
      return { ...entry, type: operation.type };
    case 'prose': {
      const { prose: _, ...rest } = entry;
      return operation.value === undefined ? rest : { ...rest, prose: operation.value };
    }
  }
}
