import { z } from 'zod';
import { KindFile, KitFile } from '../definition/shared.ts';
import { kinds } from '../kinds/index.ts';
import { isObject, type JsonObject, own } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { list, quote } from '../plain/words.ts';
import type { ParsedFile } from './parsedDefinition.ts';
import { readField } from './readField.ts';
import { readHead, readRawFields } from './readHead.ts';

/** What was read of a kit's file. */
export function readKit(data: JsonObject): ParsedFile {
  const head = readHead(KitFile, data, 'kit', 'a kit');
  const { fields, mistakes } = readRawFields(own(data, 'fields'));
  const all = [...head.mistakes, ...mistakes];
  if (head.name === undefined) return { mistakes: all };
  const { $schema: _, kit: __, fields: ___, ...options } = head.options ?? { kit: '' };
  return { found: { what: 'kit', name: head.name, options, fields }, mistakes: all };
}

const FieldFile = z.looseObject({ $schema: z.string().optional(), field: z.string() });

/** What was read of the file of a shared field: its options are read once the kinds are known. */
export function readSharedField(data: JsonObject): ParsedFile {
  const head = readHead(FieldFile, data, 'field', 'a shared field');
  if (head.name === undefined) return { mistakes: head.mistakes };
  const { $schema: _, field: __, ...options } = data;
  return { found: { what: 'field', name: head.name, data: options }, mistakes: head.mistakes };
}

/** What was read of the file of a kind of one's own. */
export function readKind(data: JsonObject): ParsedFile {
  const head = readHead(KindFile, data, 'kind', 'a kind');
  const { name, options: said } = head;
  if (name === undefined || !said) return { mistakes: head.mistakes };
  if (kinds.has(name))
    return {
      mistakes: [{ path: ['kind'], says: `there is a kind ${quote(name)} already`, mend: 'Give yours another name.' }],
    };
  if (!kinds.has(said.on))
    return {
      mistakes: [
        {
          path: ['on'],
          says: `there is no kind ${quote(said.on)} to build on`,
          mend: didYouMean(said.on, kinds.keys()) ?? `The kinds are ${list([...kinds.keys()])}.`,
        },
      ],
    };
  const written = own(data, 'options');
  const read = readField({ ...(isObject(written) ? written : {}), kind: said.on });
  if (!read.field) return { mistakes: read.mistakes.map((one) => ({ ...one, path: ['options', ...one.path] })) };
  const { kind: _, ...options } = read.field;
  const about = said.about === undefined ? {} : { about: said.about };
  return { found: { what: 'kind', name, definition: { ...about, on: said.on, options } }, mistakes: [] };
}
