import { z } from 'zod';
import type { FactKeys } from '../definition/builtIn.ts';
import { isDeviceName } from '../definition/deviceNames.ts';
import { LanguageOptionsForm } from '../definition/language.ts';
import { asJson, type ModelDoc } from '../definition/model.ts';
import { SharedForm } from '../definition/shared.ts';
import type { Branch } from '../definition/taxonomy.ts';
import { TaxonomyFile } from '../definition/taxonomy.ts';
import { TypeFile } from '../definition/type.ts';
import { compact, isObject, type Json, type JsonObject, type Path } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';
import { list } from '../plain/words.ts';
import type { Source } from '../source/yaml.ts';
import type { FilePlace } from './inheritedParts.ts';
import type { ParsedDefinition, ParsedFile } from './parsedDefinition.ts';
import { readField } from './readField.ts';
import { readKind, readKit, readSharedField } from './readShared.ts';
import { readTaxonomy } from './readTaxonomy.ts';
import { readType } from './readType.ts';
import { Resolver } from './resolve.ts';
import type { MistakeInFile } from './resolved.ts';

/** One file of a model, read as data. */
export interface ModelFile {
  readonly file: string;
  readonly source: Source;
}

/** A model read from files, with its mistakes. */
export interface ReadModel {
  readonly model: ModelDoc;
  readonly mistakes: readonly MistakeInFile[];
  /** Whether every file defines something: otherwise other files miss its definition. */
  readonly isWhole: boolean;
  /** The file that says something about a path of the model document, and the path in that file. */
  readonly origin: (path: Path) => FilePlace | undefined;
  /** All places in files that say something about it. */
  readonly origins: (path: Path) => readonly FilePlace[];
}

/** What lumbrik.yaml says that the files of a model are read with. */
interface ReadWithin extends Pick<ModelDoc, 'languages' | 'languageOptions'> {
  readonly factKeys: FactKeys;
}

/**
 * Puts the files of a model together into its normal form. Reads on after a mistake, so that one call names them all;
 * wrong parts are left out of the model, so a model with mistakes is for looking at and not for working with.
 */
export function readModel(
  files: readonly ModelFile[],
  { languages, languageOptions, factKeys }: ReadWithin,
): ReadModel {
  const { definitions, mistakes, isWhole } = definitionsIn(files, factKeys);
  const list = [...definitions.values()];
  const resolved = new Resolver(list, factKeys).result();
  const taxonomies = list.filter((definition) => definition.what === 'taxonomy');

  const origin: ReadModel['origin'] = ([section, name, ...rest]) => {
    if (section !== 'taxonomies') return resolved.placeOf(String(name), rest);
    const taxonomy = taxonomies.find((taxonomy) => taxonomy.name === name);
    return taxonomy && { file: taxonomy.file, path: taxonomy.inFile(rest) };
  };

  return {
    model: compact({
      languages,
      languageOptions,
      types: resolved.types,
      taxonomies: Object.fromEntries(taxonomies.map(({ name, definition }) => [name, definition])),
      shared: resolved.shared,
    }),
    mistakes: [...mistakes, ...resolved.mistakes],
    isWhole,
    origin,
    origins: ([section, name, ...rest]) => {
      if (section !== 'taxonomies') return resolved.placesOf(String(name), rest);
      const place = origin([section, name ?? '', ...rest]);
      if (!place) return [];
      return [place];
    },
  };
}

/** The definitions in files by their names, each with its file; the first one where two have one name. */
function definitionsIn(
  files: readonly ModelFile[],
  factKeys: FactKeys,
): Pick<ReadModel, 'mistakes' | 'isWhole'> & {
  readonly definitions: ReadonlyMap<string, ParsedDefinition & { readonly file: string }>;
} {
  const mistakes: MistakeInFile[] = [];
  const definitions = new Map<string, ParsedDefinition & { readonly file: string }>();
  const folded = new Map<string, string>();
  let isWhole = true;

  for (const { file, source } of files) {
    const read = readFile(source.data, factKeys);
    mistakes.push(...read.mistakes.map((mistake) => ({ ...mistake, file })));
    if (!read.found) {
      isWhole = false;
      continue;
    }

    const { what: category, name } = read.found;
    const unfit = unfitName(name, definitions.get(folded.get(name.toLowerCase()) ?? name));
    folded.set(name.toLowerCase(), name);
    if (unfit) mistakes.push({ file, path: [category], ...unfit });
    const other = definitions.get(name);
    if (other)
      mistakes.push({
        file,
        path: [category],
        says: `the name \`${name}\` is taken: ${other.file} defines it too`,
        mend: 'Give one of the two another name, or remove it.',
      });
    else definitions.set(name, { ...read.found, file });
  }

  return { definitions, mistakes, isWhole };
}

/**
 * Why a name cannot be the one of a file and of a folder on every system, as those of types and taxonomies have to be.
 * @param alike the definition whose name differs only in case, if there is one.
 */
function unfitName(
  name: string,
  alike: { readonly name: string; readonly file: string } | undefined,
): { readonly says: string; readonly mend: string } | undefined {
  if (isDeviceName(name))
    return {
      says: `\`${name}\` is the name of a device on some systems, and no file or folder can be called so there`,
      mend: 'Give it another name.',
    };
  if (!alike || alike.name === name) return undefined;
  return {
    says: `\`${name}\` and \`${alike.name}\` (${alike.file}) differ by large and small letters alone, and their files would be one on some systems`,
    mend: 'Give one of the two another name.',
  };
}

/** What a model file can define: by the key that it starts with. */
const readers: Readonly<Record<ParsedDefinition['what'], (data: JsonObject, factKeys: FactKeys) => ParsedFile>> = {
  type: readType,
  taxonomy: readTaxonomy,
  kit: readKit,
  field: readSharedField,
  kind: readKind, // last: a shared field has a `kind` too
};
const wayToStart = `Start it with one of ${list(
  Object.keys(readers).map((key) => `\`${key}: aName\``),
  'or',
)}`;

function readFile(data: Json, factKeys: FactKeys): ParsedFile {
  const mistake = (message: string, mend: string, path: Path = []): ParsedFile => ({
    mistakes: [{ path, atKey: path.length > 0, says: message, mend }],
  });
  if (data === null) return mistake('the file is empty', `${wayToStart}, or delete it.`);
  if (!isObject(data)) return mistake('the file holds no keys', `${wayToStart}.`);

  const reader = Object.entries(readers).find(([key]) => Object.hasOwn(data, key));
  if (reader) return reader[1](data, factKeys);

  const guess = Object.keys(data)
    .map((key) => ({ key, what: nearest(key, Object.keys(readers)) }))
    .find(({ what: subject }) => subject !== undefined);

  if (guess) return mistake(`there is no key \`${guess.key}\``, `Did you mean \`${guess.what}\`?`, [guess.key]);
  return mistake('the file does not say what it defines', `${wayToStart}.`);
}

/**
 * Reads a model document that was written by {@link readModel}, for example from a recorded revision.
 * `undefined` where it is no such document.
 */
export function readNormalForm(data: Json): ModelDoc | undefined {
  const shape = NormalForm.safeParse(data);
  if (!shape.success) return undefined;
  const { types } = shape.data;
  const isSound = Object.values(types).every(({ fields }) => Object.values(fields).every(isSoundField));
  if (!isSound) return undefined;
  return asJson(shape.data) as unknown as ModelDoc;
}

/** Definitions of fields without mistakes, as texts: revisions of one model share nearly all. */
const soundFields = new Set<string>();

function isSoundField(definition: Json): boolean {
  const text = JSON.stringify(definition);
  if (soundFields.has(text)) return true;
  const isSound = readField(definition).mistakes.length === 0;
  if (isSound) soundFields.add(text);
  return isSound;
}

/** A value parsed from JSON. */
const unread = z.custom<Json>();

const BranchSchema: z.ZodType<Branch> = z.lazy(() =>
  z.strictObject({
    term: z.string(),
    also: z.literal(true).exactOptional(),
    terms: z.array(BranchSchema).exactOptional(),
  }),
);
const NormalForm = z.strictObject({
  languages: z.array(z.string()),
  languageOptions: LanguageOptionsForm.exactOptional(),
  types: z.record(
    z.string(),
    z.strictObject({
      ...TypeFile.omit({ $schema: true, type: true, extends: true, kits: true }).shape,
      fields: z.record(z.string(), unread),
    }),
  ),
  taxonomies: z.record(
    z.string(),
    z.strictObject({
      ...TaxonomyFile.omit({ $schema: true, taxonomy: true }).shape,
      terms: z.record(z.string(), unread),
      tree: z.array(BranchSchema),
    }),
  ),
  shared: SharedForm.exactOptional(),
});
