import type { z } from 'zod';
import { fieldRule, isFieldWord, isName, nameRule } from '../definition/address.ts';
import { type FactKeys, factsByKey } from '../definition/builtIn.ts';
import { isObject, type Json, type JsonObject, ownValue, type Path } from '../plain/json.ts';
import { capital, quote } from '../plain/words.ts';
import { type Mistake, parseWith } from './mistakes.ts';

/** The head of a model file: its name and its options, without inner parts. */
export interface Head<T> {
  /** Absent where the file gives none that can be used. */
  readonly name?: string;
  /** Those without a mistake; absent where one that is needed has a mistake. */
  readonly options?: T;
  readonly mistakes: readonly Mistake[];
}

/** Reads the outermost keys of a model file. @param key the key that holds the name. */
export function readHead<T>(schema: z.ZodType<T>, data: JsonObject, key: string, category: string): Head<T> {
  const parsed = parseWith(schema, data, category);
  const mistakes = 'problem' in parsed ? parsed.problem : [];
  const right = 'problem' in parsed ? parseWith(schema, withoutWrongKeys(data, mistakes), category) : parsed;
  const options = 'value' in right ? { options: right.value } : {};
  const name = ownValue(data, key);
  if (typeof name === 'string' && isName(name)) return { name, ...options, mistakes };

  return {
    mistakes:
      typeof name === 'string'
        ? [...mistakes, { path: [key], says: `${quote(name)} is no name`, mend: `${capital(nameRule)}.` }]
        : mistakes,
  };
}

/** The data without the outermost keys in which a mistake is: the others count, so that nothing else seems to miss them. */
function withoutWrongKeys(data: JsonObject, mistakes: readonly Mistake[]): JsonObject {
  const wrongKeys = new Set(mistakes.map(({ path }) => String(path[0])));
  return Object.fromEntries(Object.entries(data).filter(([key]) => !wrongKeys.has(key)));
}

/** A field as it is in a file, before its parts are known. */
export interface RawField {
  readonly name: string;
  readonly data: Json;
  readonly path: Path;
}

/** The fields of a type or a kit by their names, each still as it is in the file. */
export function readRawFields(
  data: Json | undefined,
  mistakeInName: (name: string, path: Path) => Mistake | undefined,
): {
  readonly fields: readonly RawField[];
  readonly mistakes: readonly Mistake[];
} {
  if (data === undefined || data === null) return { fields: [], mistakes: [] };
  if (!isObject(data))
    return {
      fields: [],
      mistakes: [
        {
          path: ['fields'],
          says: '`fields` is no group of keys',
          mend: 'Write each field on a line of its own: `name: { kind: text }`.',
        },
      ],
    };

  const read = Object.entries(data).map(([name, value]) => {
    const path = ['fields', name];
    return { field: { name, data: value, path }, mistake: mistakeInName(name, path) };
  });

  return {
    fields: read.map(({ field }) => field),
    mistakes: read.flatMap(({ mistake }) => mistake ?? []),
  };
}

/** Whether a text can be the name of a field, where entries have what every entry has under some keys. */
export const isFieldName = (name: string, factKeys: FactKeys): boolean =>
  isFieldWord(name) && !factsByKey(factKeys).has(name);

/** Why a field cannot be called so outside objects. */
export const mistakeInFieldName =
  (factKeys: FactKeys) =>
  (name: string, path: Path): Mistake | undefined => {
    if (!factsByKey(factKeys).has(name)) return mistakeInPlainName(name, path);
    return {
      path,
      atKey: true,
      says: `\`${name}\` is reserved: every entry has it of itself`,
      mend: `Give the field another name, or say in lumbrik.yaml under which key the built-in one stands: \`builtIn: { ${name}: … }\`, or false.`,
    };
  };

/** Inside an object no name is reserved. */
export function mistakeInPlainName(name: string, path: Path): Mistake | undefined {
  if (isFieldWord(name)) return undefined;
  return { path, atKey: true, says: `${quote(name)} is no name`, mend: `${capital(fieldRule)}.` };
}
