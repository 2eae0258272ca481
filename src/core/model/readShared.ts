import { z } from 'zod';
import type { FactKeys } from '../definition/builtIn.ts';
import type { KindDoc } from '../definition/shared.ts';
import { KindFile, KitFile } from '../definition/shared.ts';
import { kinds } from '../kinds/index.ts';
import { isObject, type JsonObject, ownValue } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { list, quote } from '../plain/words.ts';
import type { Mistake } from './mistakes.ts';
import type { ParsedFile } from './parsedDefinition.ts';
import { onlyKinds, readField } from './readField.ts';
import { mistakeInFieldName, readHead, readRawFields } from './readHead.ts';

/** The content of a kit's file. */
export function readKit(data: JsonObject, factKeys: FactKeys): ParsedFile {
  const head = readHead(KitFile, data, 'kit', 'a kit');
  const { fields, mistakes } = readRawFields(ownValue(data, 'fields'), mistakeInFieldName(factKeys));
  const allMistakes = [...head.mistakes, ...mistakes];
  if (head.name === undefined) return { mistakes: allMistakes };
  const { $schema: _, kit: __, fields: ___, ...options } = head.options ?? { kit: '' };
  return { found: { what: 'kit', name: head.name, options, fields }, mistakes: allMistakes };
}

const FieldFile = z.looseObject({ $schema: z.string().optional(), field: z.string() });

/** The content of the file of a shared field: its options are read once the kinds are known. */
export function readSharedField(data: JsonObject): ParsedFile {
  const head = readHead(FieldFile, data, 'field', 'a shared field');
  if (head.name === undefined) return { mistakes: head.mistakes };
  const { $schema: _, field: __, ...options } = data;
  return { found: { what: 'field', name: head.name, data: options }, mistakes: head.mistakes };
}

/** The content of the file of a kind of one's own. */
export function readKind(data: JsonObject): ParsedFile {
  const head = readHead(KindFile, data, 'kind', 'a kind');
  const { name, options: ownOptions } = head;
  if (name === undefined || !ownOptions) return { mistakes: head.mistakes };
  if (kinds.has(name))
    return {
      mistakes: [{ path: ['kind'], says: `there is a kind ${quote(name)} already`, mend: 'Give yours another name.' }],
    };

  const written = ownValue(data, 'options');
  const options = isObject(written) ? written : {};
  const about = ownOptions.about === undefined ? {} : { about: ownOptions.about };

  return { found: { what: 'kind', name, definition: { ...about, on: ownOptions.on, options } }, mistakes: [] };
}

/**
 * Makes the kinds of a model whole, which may be built on each other: their options in their normal form.
 * @returns those that can be, and problems of the others.
 */
export function readKinds(definitions: Readonly<Record<string, KindDoc>>): {
  readonly kinds: Readonly<Record<string, KindDoc>>;
  readonly mistakes: readonly (Mistake & { readonly kind: string })[];
} {
  const mistakes: (Mistake & { readonly kind: string })[] = [];
  const merged: Record<string, KindDoc> = {};
  for (const [kind, definition] of Object.entries(definitions)) {
    const { on, options } = definition;
    const wrong = wrongGround(kind, on, definitions) ?? kitsInKind(options);
    const read = wrong ? { mistakes: [wrong] } : readField({ ...options, kind: on }, onlyKinds(definitions));
    mistakes.push(
      ...read.mistakes.map((mistake) => ({
        ...mistake,
        kind,
        path: wrong ? mistake.path : ['options', ...mistake.path],
      })),
    );
    const { field } = read;
    if (field)
      merged[kind] = {
        ...definition,
        options: Object.fromEntries(Object.entries(field).filter(([key]) => Object.hasOwn(options, key))),
      };
  }

  return { kinds: merged, mistakes };
}

const kitsInKind = (options: JsonObject): Mistake | undefined => {
  if (!Object.hasOwn(options, 'kits')) return undefined;
  return {
    path: ['options', 'kits'],
    atKey: true,
    says: 'a kind of its own cannot have kits',
    mend: 'Make it a shared field, in model/fields/, or write its fields here.',
  };
};

/** Why a kind cannot be built on its content: there is no such kind, or it is built on itself in the end. */
function wrongGround(kind: string, on: string, definitions: Readonly<Record<string, KindDoc>>): Mistake | undefined {
  const names = [...kinds.keys(), ...Object.keys(definitions).filter((name) => name !== kind)];
  const way = [kind];
  for (let ground = on; !kinds.has(ground); ground = definitions[ground]?.on ?? '') {
    if (ground === kind || way.includes(ground))
      return {
        path: ['on'],
        says: `\`${kind}\` is built on itself${on === kind ? '' : `, by way of \`${on}\``}`,
        mend: 'Build one of them on a kind that is there already.',
      };
    if (!Object.hasOwn(definitions, ground))
      return ground === on
        ? {
            path: ['on'],
            says: `there is no kind ${quote(on)} to build on`,
            mend: didYouMean(on, names) ?? `The kinds are ${list(names)}.`,
          }
        : undefined;
    way.push(ground);
  }

  return undefined;
}
