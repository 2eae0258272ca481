import { z } from 'zod';
import { isObject, type Json, type Path } from '../json.ts';
import { nearest } from '../nearest.ts';
import type { Source } from '../source/yaml.ts';
import {
  asJson,
  type Branch,
  type ModelDoc,
  type TaxonomyDoc,
  TaxonomyFile,
  type TypeDoc,
  TypeFile,
} from './document.ts';
import type { ReadFile } from './found.ts';
import type { Mistake } from './mistakes.ts';
import { readTaxonomy } from './readTaxonomy.ts';
import { readField, readType } from './readType.ts';

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

function readFile(data: Json): ReadFile {
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
