import { textStart } from '../core/source/yaml.ts';
import { hashBytes } from '../workspace/files.ts';
import type { EntryStore, Item, Place } from './store.ts';

/**
 * A store as it would be if a file held other bytes: what an editor has not saved yet.
 * @param file its path below the workspace; it need not be there.
 * @returns `undefined` where the store keeps no entry alone in such a file.
 */
export function overlaid(store: EntryStore, file: string, bytes: Buffer): EntryStore | undefined {
  const read = store.wholeFile(file, bytes);
  if (!read) return undefined;
  const place: Place = { store: 'overlaid', file };
  const kept = { place, version: hashBytes(bytes) };
  const item: Item = 'value' in read ? { ...kept, entry: read.value.entry } : { ...kept, problem: read.problem };

  return {
    can: store.can,
    parts: async () => [{ store: 'overlaid' }],
    read: async function* () {
      let isThere = false;
      for (const part of await store.parts(1))
        for await (const one of store.read(part)) {
          if (one.place.file !== file) yield one;
          else if (!isThere) yield item;
          isThere ||= one.place.file === file;
        }
      if (!isThere) yield item;
    },
    get: (address, near) => store.get(address, near),
    locate: async (at, path, body) => {
      if (at.file !== file) return store.locate(at, path, body);
      return 'value' in read ? read.value.locate(path, body) : textStart;
    },
    attempt: (change) => store.attempt(change),
    wholeFile: (one, some) => store.wholeFile(one, some),
    linesOf: (one, some) => store.linesOf(one, some),
    begin: (sink) => store.begin(sink),
  };
}
