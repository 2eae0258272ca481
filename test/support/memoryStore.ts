import { type Entry, keyOf } from '../../src/core/entry/entry.ts';
import { textStart } from '../../src/core/source/yaml.ts';
import type { EntryStore, Stored } from '../../src/stores/store.ts';

const name = 'memory';

/** A store that keeps entries in memory and only shows them: for trying what is done with entries, without a file. */
export function memoryStore(entries: readonly Entry[]): EntryStore {
  const storedOf = (entry: Entry): Stored => ({
    place: { store: name, file: keyOf(entry) },
    version: JSON.stringify(entry),
    entry,
  });
  const unchangeable = () => {
    throw new Error('entries in memory are not changed');
  };

  return {
    can: { restoreBytes: false },
    parts: async () => [{ store: name }],
    read: async function* () {
      for (const entry of entries) yield storedOf(entry);
    },
    get: async (address) => entries.filter((entry) => keyOf(entry) === keyOf(address)).map(storedOf)[0],
    locate: async () => textStart,
    attempt: async () => undefined,
    wholeFile: () => undefined,
    linesOf: () => undefined,
    begin: unchangeable,
  };
}
