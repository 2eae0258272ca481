import { z } from 'zod';
import { compact, isList, isObject, type Json, type JsonObject, own, type Path } from '../json.ts';
import { kinds } from '../kinds/index.ts';
import { didYouMean, nearest } from '../nearest.ts';
import type { Source } from '../source/yaml.ts';
import { count, list, quote } from '../words.ts';
import { idRule, isId, isName, nameRule } from './address.ts';
import {
  asJson,
  type Branch,
  commonOptions,
  type FieldDoc,
  type ModelDoc,
  reservedNames,
  type TaxonomyDoc,
  TaxonomyFile,
  type TermDoc,
  TermEntry,
  type TypeDoc,
  TypeFile,
} from './document.ts';
import { type Mistake, parseWith } from './mistakes.ts';

/** One file of a model, read as data. */
export interface ModelFile {
  readonly file: string;
  readonly source: Source;
}

/** A mistake with the file it stands in. */
interface MistakeInFile extends Mistake {
  readonly file: string;
}

export interface ReadModel {
  readonly model: ModelDoc;
  readonly mistakes: readonly MistakeInFile[];
  /** The file that says something about a path of the model document, and the path in that file. */
  readonly origin: (path: Path) => { readonly file: string; readonly path: Path } | undefined;
}

/**
 * Puts the files of a model together into its normal form. Reads on after a mistake, so that one call names them all;
 * what is wrong is left out of the model, so a model with mistakes is for looking at and not for working with.
 */
export function readModel(files: readonly ModelFile[], languages: readonly string[]): ReadModel {
  const types: Record<string, TypeDoc> = {};
  const taxonomies: Record<string, TaxonomyDoc> = {};
  const mistakes: MistakeInFile[] = [];
  const placed = new Map<string, { readonly file: string; readonly inFile: (path: Path) => Path }>();

  for (const { file, source } of files) {
    const read = readFile(source.data);
    mistakes.push(...read.mistakes.map((mistake) => ({ ...mistake, file })));
    if (!read.found) continue;
    const { what, name } = read.found;
    const other = placed.get(`types/${name}`) ?? placed.get(`taxonomies/${name}`);
    if (other) {
      mistakes.push({
        file,
        path: [what],
        says: `the name \`${name}\` is taken: ${other.file} defines it too`,
        mend: 'Give one of the two another name, or remove it.',
      });
      continue;
    }
    if (read.found.what === 'type') types[name] = read.found.form;
    else taxonomies[name] = read.found.form;
    placed.set(`${what === 'type' ? 'types' : 'taxonomies'}/${name}`, { file, inFile: read.found.inFile });
  }

  return {
    model: { languages, types, taxonomies },
    mistakes,
    origin: ([kind, name, ...rest]) => {
      const found = placed.get(`${kind}/${name}`);
      return found && { file: found.file, path: found.inFile(rest) };
    },
  };
}

type Found =
  | { readonly what: 'type'; readonly name: string; readonly form: TypeDoc; readonly inFile: (path: Path) => Path }
  | {
      readonly what: 'taxonomy';
      readonly name: string;
      readonly form: TaxonomyDoc;
      readonly inFile: (path: Path) => Path;
    };

function readFile(data: Json): { readonly found?: Found; readonly mistakes: readonly Mistake[] } {
  if (data === null)
    return {
      mistakes: [
        {
          path: [],
          says: 'the file is empty',
          mend: 'Start it with `type: aName` or `taxonomy: aName`, or delete it.',
        },
      ],
    };
  if (!isObject(data))
    return {
      mistakes: [
        { path: [], says: 'the file holds no keys', mend: 'Start it with `type: aName` or `taxonomy: aName`.' },
      ],
    };
  if (Object.hasOwn(data, 'type')) return readType(data);
  if (Object.hasOwn(data, 'taxonomy')) return readTaxonomy(data);
  const meant = Object.keys(data)
    .map((key) => ({ key, what: nearest(key, ['type', 'taxonomy']) }))
    .find(({ what }) => what !== undefined);
  return {
    mistakes: [
      meant
        ? {
            path: [meant.key],
            atKey: true,
            says: `there is no key \`${meant.key}\``,
            mend: `Did you mean \`${meant.what}\`?`,
          }
        : {
            path: [],
            says: 'the file says neither `type:` nor `taxonomy:`',
            mend: 'Start it with `type: aName` or `taxonomy: aName`.',
          },
    ],
  };
}

/* ── types ───────────────────────────────────────────────────────────────────────────────────────────────────── */

function readType(data: JsonObject): { readonly found?: Found; readonly mistakes: readonly Mistake[] } {
  const parsed = parseWith(TypeFile, withoutProto(data), 'a type');
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
  const parsed = parseWith(fieldSchema(kind.name), withoutProto(data), `a field of kind ${kind.name}`);
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

/* ── taxonomies ──────────────────────────────────────────────────────────────────────────────────────────────── */

function readTaxonomy(data: JsonObject): { readonly found?: Found; readonly mistakes: readonly Mistake[] } {
  const parsed = parseWith(TaxonomyFile, withoutProto(data), 'a taxonomy');
  const mistakes: Mistake[] = 'mistakes' in parsed ? [...parsed.mistakes] : [];
  const name = own(data, 'taxonomy');
  if (typeof name !== 'string' || !isName(name)) {
    if (typeof name === 'string')
      mistakes.push({ path: ['taxonomy'], says: `${quote(name)} is no name`, mend: `${capital(nameRule)}.` });
    return { mistakes };
  }
  const read = readTerms(own(data, 'terms') ?? null);
  mistakes.push(...read.mistakes);
  const {
    $schema: _,
    taxonomy: __,
    terms: ___,
    ...options
  } = 'value' in parsed ? parsed.value : { $schema: '', taxonomy: '', terms: '' };
  const inFile = ([part, term, ...rest]: Path): Path => {
    const place = part === 'terms' ? read.places.get(String(term)) : undefined;
    return place ? [...place, ...rest] : part === undefined || part === 'tree' ? ['terms'] : [part];
  };
  return {
    found: {
      what: 'taxonomy',
      name,
      form: { ...options, terms: Object.fromEntries(read.terms), tree: read.tree },
      inFile,
    },
    mistakes,
  };
}

interface ReadTerms {
  readonly terms: Map<string, TermDoc>;
  readonly tree: readonly Branch[];
  /** Where each term stands in the file. */
  readonly places: Map<string, Path>;
  readonly mistakes: Mistake[];
}

const deepestTerm = 32;

function readTerms(data: Json): ReadTerms {
  const read = { terms: new Map<string, TermDoc>(), places: new Map<string, Path>(), mistakes: [] as Mistake[] };
  return { ...read, tree: readBranches(data, ['terms'], read) };
}

function readBranches(data: Json, path: Path, read: Omit<ReadTerms, 'tree'>): readonly Branch[] {
  if (data === null) return [];
  if (!isList(data)) {
    read.mistakes.push({
      path,
      says: '`terms` is no list',
      mend: 'Write each term on a line of its own: `- { term: north, label: North }`.',
    });
    return [];
  }
  if (path.length > 2 * deepestTerm) {
    read.mistakes.push({
      path,
      says: `terms are nested more than ${count(deepestTerm, 'level')} deep`,
      mend: 'Make the hierarchy flatter.',
    });
    return [];
  }
  return data.flatMap((item, index) => readBranch(item, [...path, index], read));
}

function readBranch(data: Json, path: Path, read: Omit<ReadTerms, 'tree'>): readonly Branch[] {
  const parsed = parseWith(TermEntry, withoutProto(data), 'a term');
  if ('mistakes' in parsed) {
    read.mistakes.push(...parsed.mistakes.map((mistake) => ({ ...mistake, path: [...path, ...mistake.path] })));
    return [];
  }
  const { term, terms, ...options } =
    typeof parsed.value === 'string' ? { term: parsed.value, terms: undefined } : parsed.value;
  if (!isId(term)) {
    read.mistakes.push({ path, says: `${quote(term)} is no identifier of a term`, mend: `${capital(idRule)}.` });
    return [];
  }
  if (read.terms.has(term)) {
    read.mistakes.push({
      path,
      says: `the term \`${term}\` stands twice`,
      mend: 'Give one of the two another identifier.',
    });
    return [];
  }
  read.terms.set(term, options);
  read.places.set(term, path);
  const below = readBranches(terms ?? null, [...path, 'terms'], read);
  return [below.length > 0 ? { term, terms: below } : { term }];
}

/* ── parts, as the steps of a migration hold them ────────────────────────────────────────────────────────────── */

type Parts<T> = { readonly value: T } | { readonly mistakes: readonly Mistake[] };

/** Reads what a type's file says below its name. */
export function readTypeParts(data: Json): Parts<TypeDoc> {
  const { found, mistakes } = readType({ ...Object(data), type: 'a' });
  return found?.what === 'type' && mistakes.length === 0 ? { value: found.form } : { mistakes };
}

/** Reads what a taxonomy's file says below its name. */
export function readTaxonomyParts(data: Json): Parts<TaxonomyDoc> {
  const { found, mistakes } = readTaxonomy({ ...Object(data), taxonomy: 'a' });
  return found?.what === 'taxonomy' && mistakes.length === 0 ? { value: found.form } : { mistakes };
}

/* ── shared ──────────────────────────────────────────────────────────────────────────────────────────────────── */

/** Zod passes over a key called `__proto__`; under another name it is refused like every unknown key. */
function withoutProto(data: Json): Json {
  if (!isObject(data) || !Object.hasOwn(data, '__proto__')) return data;
  return Object.fromEntries(
    Object.entries(data).map(([key, value]) => [key === '__proto__' ? '"__proto__"' : key, value]),
  );
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/**
 * Reads a model document that was written by {@link readModel}, for example from a recorded revision.
 * `undefined` where it is no such document.
 */
export function readNormalForm(data: Json): ModelDoc | undefined {
  const shape = NormalForm.safeParse(data);
  if (!shape.success) return undefined;
  const { types } = shape.data;
  const fields = Object.values(types).flatMap((type) => Object.values(type.fields));
  const isSound = fields.every((field) => readField(field).mistakes.length === 0);
  return isSound ? (asJson(shape.data) as unknown as ModelDoc) : undefined;
}

const BranchSchema: z.ZodType<Branch> = z.lazy(() =>
  z.strictObject({ term: z.string(), terms: z.array(BranchSchema).exactOptional() }),
);
const NormalForm = z.strictObject({
  languages: z.array(z.string()),
  types: z.record(
    z.string(),
    z.strictObject({ ...TypeFile.omit({ $schema: true, type: true }).shape, fields: z.record(z.string(), z.json()) }),
  ),
  taxonomies: z.record(
    z.string(),
    z.strictObject({
      ...TaxonomyFile.omit({ $schema: true, taxonomy: true }).shape,
      terms: z.record(z.string(), z.json()),
      tree: z.array(BranchSchema),
    }),
  ),
});
