import { SharedFiles } from './sharedFiles.ts';
import type { EntryStore, Part, Place, Transaction } from './store.ts';

/**
 * Several stores as one, in their order. A place, and a part, belong to the store that they name.
 * @param shared the files that more than one of them keeps entries in.
 */
export function several(stores: ReadonlyMap<string, EntryStore>, shared: ReadonlySet<string>): EntryStore {
  const entryStores = [...stores.values()];

  const storeOf = ({ store: name }: Place | Part): EntryStore => {
    const store = stores.get(name);
    if (!store) throw new Error(`there is no store ${name}`);
    return store;
  };

  return {
    can: { restoreBytes: entryStores.every((store) => store.can.restoreBytes) },
    parts: async (atMost) => {
      const perStore = Math.max(1, Math.floor(atMost / entryStores.length));
      return (await Promise.all(entryStores.map((store) => store.parts(perStore)))).flat();
    },
    // Two stores may keep entries in one file.
    fingerprint: (part) => {
      const ownFingerprint = storeOf(part).fingerprint?.(part);
      return ownFingerprint && `${part.store}-${ownFingerprint}`;
    },
    read: (part) => storeOf(part).read(part),
    get: async (address, near) => {
      for (const store of near ? [storeOf(near), ...entryStores] : entryStores) {
        const item = await store.get(address, near);
        if (item) return item;
      }
      return undefined;
    },
    locate: (place, path, body) => storeOf(place).locate(place, path, body),
    attempt: async (change) => {
      if (change.stored) await storeOf(change.stored.place).attempt(change);
    },
    wholeFile: (file, bytes) => firstOf(entryStores, (store) => store.wholeFile(file, bytes)),
    linesOf: (file, bytes) => firstOf(entryStores, (store) => store.linesOf(file, bytes)),
    begin: (sink) => beginAll(stores, new SharedFiles(sink, shared)),
  };
}

/** Begins to change the entries of all stores. */
function beginAll(stores: ReadonlyMap<string, EntryStore>, files: SharedFiles): Transaction {
  const begun = new Map([...stores].map(([name, store]) => [name, store.begin(files)]));
  const [first] = begun.values();
  const transactionOf = (place: Place | undefined): Transaction | undefined => {
    if (!place) return first;
    return begun.get(place.store);
  };

  return {
    change: async (change) => transactionOf(change.stored?.place)?.change(change),
    prepare: async () => {
      for (const transaction of begun.values()) await transaction.prepare();
      files.done();
    },
  };
}

function firstOf<T>(stores: readonly EntryStore[], ask: (store: EntryStore) => T | undefined): T | undefined {
  for (const store of stores) {
    const answer = ask(store);
    if (answer !== undefined) return answer;
  }
  return undefined;
}
