import { z } from 'zod';
import { compact, isList, isObject, type Json, type JsonObject, own, type Path } from '../json.ts';
import { kinds } from '../kinds/index.ts';
import { didYouMean } from '../nearest.ts';
import { capital, list, quote } from '../words.ts';
import { isName, nameRule } from './address.ts';
import { commonOptions, type FieldDoc, reservedNames, type TypeDoc, TypeFile } from './document.ts';
import type { Parts, ReadFile } from './found.ts';
import { type Mistake, parseWith } from './mistakes.ts';

/** What was read of a type's file, with every mistake in it. */
export function readType(data: JsonObject): ReadFile {
  const parsed = parseWith(TypeFile, data, 'a type');
  const mistakes: Mistake[] = 'mistakes' in parsed ? [...parsed.mistakes] : [];
  const name = own(data, 'type');
  if (typeof name !== 'string' || !isName(name)) {
    if (typeof name === 'string')
      mistakes.push({ path: ['type'], says: `${quote(name)} is no name`, mend: `${capital(nameRule)}.` });
    return { mistakes };
  }
  const { fields, mistakes: inFields } = readFields(own(data, 'fields') ?? null);
  mistakes.push(...inFields);
  const {
    $schema: _,
    type: __,
    fields: ___,
    ...options
  } = 'value' in parsed ? parsed.value : { $schema: '', type: '', fields: '' };
  return { found: { what: 'type', name, form: { ...options, fields }, inFile: (path) => path }, mistakes };
}

function readFields(data: Json): {
  readonly fields: Readonly<Record<string, FieldDoc>>;
  readonly mistakes: readonly Mistake[];
} {
  if (data === null) return { fields: {}, mistakes: [] };
  if (!isObject(data))
    return {
      fields: {},
      mistakes: [
        {
          path: ['fields'],
          says: '`fields` is no group of keys',
          mend: 'Write each field on a line of its own: `name: { kind: text }`.',
        },
      ],
    };
  const fields: [string, FieldDoc][] = [];
  const mistakes: Mistake[] = [];
  for (const [name, options] of Object.entries(data)) {
    const path = ['fields', name];
    const nameMistake = mistakeInName(name, path);
    if (nameMistake) mistakes.push(nameMistake);
    const read = readField(options);
    mistakes.push(...read.mistakes.map((mistake) => ({ ...mistake, path: [...path, ...mistake.path] })));
    if (read.field && !nameMistake) fields.push([name, read.field]);
  }
  return { fields: Object.fromEntries(fields), mistakes };
}

function mistakeInName(name: string, path: Path): Mistake | undefined {
  if ((reservedNames as readonly string[]).includes(name))
    return {
      path,
      atKey: true,
      says: `\`${name}\` is reserved: every entry has it of itself`,
      mend: `Give the field another name; reserved are ${list(reservedNames)}.`,
    };
  return isName(name)
    ? undefined
    : { path, atKey: true, says: `${quote(name)} is no name`, mend: `${capital(nameRule)}.` };
}

/** Reads one field's kind and options into their normal form. */
export function readField(data: Json): { readonly field?: FieldDoc; readonly mistakes: readonly Mistake[] } {
  const kindName = isObject(data) ? own(data, 'kind') : undefined;
  if (!isObject(data) || kindName === undefined)
    return {
      mistakes: [
        {
          path: [],
          says: 'the field says no kind',
          mend: `Write \`{ kind: text }\`; the kinds are ${list([...kinds.keys()])}.`,
        },
      ],
    };
  const kind = kinds.get(String(kindName));
  if (!kind)
    return {
      mistakes: [
        {
          path: ['kind'],
          says: `there is no kind ${quote(kindName)}`,
          mend: didYouMean(String(kindName), kinds.keys()).trim() || `The kinds are ${list([...kinds.keys()])}.`,
        },
      ],
    };
  const parsed = parseWith(fieldSchema(kind.name), data, `a field of kind ${kind.name}`);
  if ('mistakes' in parsed) return { mistakes: parsed.mistakes };
  return { field: { kind: kind.name, ...normal(parsed.value) } as FieldDoc, mistakes: [] };
}

const schemas = new Map<string, z.ZodType<Readonly<Record<string, unknown>>>>();

/** The schema of a field of a kind: what every field may say, and what this kind may say. */
function fieldSchema(kind: string): z.ZodType<Readonly<Record<string, unknown>>> {
  const known = schemas.get(kind);
  if (known) return known;
  const schema = z.strictObject({ kind: z.literal(kind), ...commonOptions, ...kinds.get(kind)?.shape });
  schemas.set(kind, schema);
  return schema;
}

/** Parsed options without the keys that are absent, at any depth. */
function normal(value: unknown): JsonObject {
  return compact(
    Object.fromEntries(
      Object.entries(value as Record<string, Json | undefined>).map(([key, inner]) => [
        key,
        isObject(inner)
          ? normal(inner)
          : isList(inner)
            ? inner.map((item) => (isObject(item) ? normal(item) : item))
            : inner,
      ]),
    ),
  );
}

/** Reads what a type's file says below its name. */
export function readTypeParts(data: Json): Parts<TypeDoc> {
  const { found, mistakes } = readType({ ...Object(data), type: 'a' });
  return found?.what === 'type' && mistakes.length === 0 ? { value: found.form } : { mistakes };
}
