import { type Entry, keyOf } from '../../core/entry/entry.ts';
import { textStart } from '../../core/source/yaml.ts';
import { entryAfterOperation } from '../applyOperation.ts';
import type { EntryChange, EntryStore, Stored } from '../store.ts';

const name = 'memory';
/** A store that keeps entries in memory: for trying what is done with entries, without a file. */
export function memoryStore(entries: readonly Entry[]): EntryStore {
  let current = entries;
  const storedOf = (entry: Entry): Stored => ({
    place: { store: name, file: keyOf(entry) },
    version: JSON.stringify(entry),
    entry,
  });

  return {
    can: { positions: false, ownTransactions: true, restoreBytes: false },
    parts: async () => [{ store: name }],
    read: async function* () {
      for (const entry of current) yield storedOf(entry);
    },
    get: async (address) => current.filter((entry) => keyOf(entry) === keyOf(address)).map(storedOf)[0],
    locate: async () => textStart,
    attempt: async (change) => {
      changed(current, change);
    },
    wholeFile: () => undefined,
    linesOf: () => undefined,
    begin: () => {
      const before = current;
      let after = current;

      return {
        change: async (change) => {
          after = changed(after, change);
        },
        prepare: async () => undefined,
        own: {
          commit: async () => {
            current = after;
          },
          rollback: async () => {
            current = before;
          },
        },
      };
    },
  };
}

function changed(entries: readonly Entry[], { stored, operations = [], added = [] }: EntryChange): readonly Entry[] {
  if (stored && !entries.some((entry) => keyOf(entry) === keyOf(stored.entry)))
    throw new Error(`there is no entry ${keyOf(stored.entry)}`);

  const edited = entries.flatMap((entry) =>
    stored && keyOf(entry) === keyOf(stored.entry)
      ? [operations.reduce<Entry | undefined>(entryAfterOperation, entry)]
      : [entry],
  );

  return [...edited.filter((entry) => entry !== undefined), ...added];
}
