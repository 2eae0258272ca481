import { ownFactKeys } from '../../entry/entry.ts';
import type { JsonObject } from '../../plain/json.ts';
import type { EntryFormat, OutEntry } from './define.ts';

/** An entry as one group of keys, with its type and its identifier. */
function whole({ type, id, values, stored }: OutEntry): JsonObject {
  const keys = ownFactKeys(stored);
  return { [keys.type ?? 'type']: type, [keys.id ?? 'id']: id, ...values };
}

/** Newline-delimited JSON: an entry on each line. */
export const ndjson: EntryFormat = {
  name: 'ndjson',
  about: 'JSON, an entry on each line',
  isFolder: () => false,
  writing: () => ({
    put: (entry) => [{ ending: '.ndjson', text: `${JSON.stringify(whole(entry))}\n` }],
  }),
};

/** One list of all entries. */
export const json: EntryFormat = {
  name: 'json',
  about: 'JSON, one list of all entries',
  isFolder: () => false,
  writing: () => {
    let isFirst = true;
    return {
      begin: () => ({ ending: '.json', text: '[' }),
      put: (entry) => {
        const gap = isFirst ? '\n  ' : ',\n  ';
        isFirst = false;
        return [{ ending: '.json', text: `${gap}${JSON.stringify(whole(entry))}` }];
      },
      finish: () => [{ ending: '.json', text: isFirst ? ']\n' : '\n]\n' }],
    };
  },
};
