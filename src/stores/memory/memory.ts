import { type Entry, keyOf } from '../../core/entry/entry.ts';
import { textStart } from '../../core/source/yaml.ts';
import { entryAfterOperation } from '../applyOperation.ts';
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
    of && keyOf(entry) === keyOf(of.entry)
      ? [operations.reduce<Entry | undefined>(entryAfterOperation, entry)]
      : [entry],
  );
  return [...edited.filter((entry) => entry !== undefined), ...added];
}
