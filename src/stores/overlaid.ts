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
  const overlay = { place, version: hashBytes(bytes) };
  const item: Item = 'value' in read ? { ...overlay, entry: read.value.entry } : { ...overlay, problem: read.problem };

  return {
    can: store.can,
    parts: async () => [{ store: 'overlaid' }],
    read: async function* () {
      let isThere = false;
      for (const part of await store.parts(1))
        for await (const storedItem of store.read(part)) {
          if (storedItem.place.file !== file) yield storedItem;
          else if (!isThere) yield item;
          isThere ||= storedItem.place.file === file;
        }

      if (!isThere) yield item;
    },
    get: (address, near) => store.get(address, near),
    locate: async (place, path, body) => {
      if (place.file !== file) return store.locate(place, path, body);
      if ('value' in read) return read.value.locate(path, body);
      return textStart;
    },
    attempt: (change) => store.attempt(change),
    wholeFile: (file, some) => store.wholeFile(file, some),
    linesOf: (file, some) => store.linesOf(file, some),
    begin: (sink) => store.begin(sink),
  };
}
