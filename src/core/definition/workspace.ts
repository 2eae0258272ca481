import { z } from 'zod';
import { usualLimits } from '../plain/limits.ts';
import { groupThousands } from '../plain/words.ts';
import { fieldRule, isFieldWord } from './address.ts';
import { type BuiltIn, builtInFacts } from './builtIn.ts';
import { type FindingName, findings } from './findingNames.ts';
import { LanguageCode, languageOptions } from './language.ts';
import { Sentence } from './wording.ts';

/** What a workspace may say of its limits. They bound what a file may cost, so that none stops the tool. */
export const limitOptions = {
  expressionSteps: z
    .int()
    .min(1_000)
    .max(1_000_000_000)
    .optional()
    .describe(
      `The most steps of one expression for one entry (default ${groupThousands(usualLimits.expressionSteps)}). A step is a value visited in a loop (all, exists, map, filter).`,
    ),
  fileNodes: z
    .int()
    .min(1_000)
    .max(100_000_000)
    .optional()
    .describe(
      `The most keys, values and items in one file (default ${groupThousands(usualLimits.fileNodes)}). A thousand need about a megabyte of memory.`,
    ),
  fileMegabytes: z
    .int()
    .min(1)
    .max(1_024)
    .optional()
    .describe(`The largest file that is read, in megabytes (default ${usualLimits.fileMegabytes}).`),
};

/** The folder of a workspace that holds its entries. Stores lie in it; a run changes nothing elsewhere. */
export const contentFolder = 'content';

/** Whether a path leads to the content folder or into it: no way up, nothing hidden, `/` between its parts. */
const isContent = (text: string): boolean =>
  /^content(?:\/[^/\\]+)*$/u.test(text) && text.split('/').every((part) => !part.startsWith('.'));
const ContentPath = z
  .string()
  .refine(isContent, { error: 'a path in the content folder, such as content/keepers.ndjson' });

const storeKeys = z
  .strictObject(
    Object.fromEntries(builtInFacts.map((name) => [name, Sentence.optional()])) as Record<
      BuiltIn,
      z.ZodOptional<typeof Sentence>
    >,
  )
  .optional()
  .describe(
    'The keys that hold there what every entry has, where they are called otherwise than in the rest of the workspace: { id: number, status: state }.',
  );

const storeFields = z
  .record(z.string(), z.string())
  .refine((fields) => Object.keys(fields).every(isFieldWord), { error: fieldRule })
  .optional()
  .describe(
    'The keys that hold fields there, or the columns, where they are called as no field can be: { firstName: First name, size: Size (cm) }. lumbrik rename says the new name here; where it is not said here, a migration gives it a key of that name.',
  );

/** What can be stated about a folder of entries. */
const folderOptions = {
  folder: ContentPath.describe(
    'A folder in which each entry is a file: <folder>/<type>/<id>.md, .yaml, .yml or .json; with a `type`, <folder>/<id>.md.',
  ),
  type: z.string().optional().describe('The type of entries that do not say their own.'),
  keys: storeKeys,
  fields: storeFields,
};

/** What can be stated about files of which each line is an entry. */
const linesOptions = {
  lines: z
    .union([ContentPath.transform((file) => [file]), z.array(ContentPath).min(1)])
    .describe(
      'A file, or several, in which each line is an entry as an object of JSON (NDJSON); compressed with gzip where its name ends in .gz.',
    ),
  type: z.string().optional().describe('The type of entries that do not say their own.'),
  keys: storeKeys,
  fields: storeFields,
};

/** What can be stated about files of JSON that hold entries in a list or in a map. */
const collectionOptions = {
  json: z
    .union([ContentPath.transform((file) => [file]), z.array(ContentPath).min(1)])
    .describe('A file of JSON, or several, that holds entries in a list, or in a map by their identifiers.'),
  at: z
    .string()
    .regex(/^[^.]+(?:\.[^.]+)*$/u)
    .optional()
    .describe('The keys that lead to the list or map, where it is not the whole file: data.lights.'),
  type: linesOptions.type,
  keys: storeKeys,
  fields: storeFields,
};

/** What can be stated about tables. */
const tableOptions = {
  csv: z
    .union([ContentPath.transform((file) => [file]), z.array(ContentPath).min(1)])
    .describe(
      'A table, or several, in which each row is an entry (CSV, or TSV where its name ends in .tsv). The first row names the fields, or the second one below a heading; one inside an object, or a language, with a dot: hours.opens, name.fr. A column without a name is called by its place: column-3.',
    ),
  type: linesOptions.type,
  delimiter: z.string().length(1).optional().describe('The separator of cells. Default: found in the first row.'),
  encoding: z
    .enum(['utf-8', 'windows-1252', 'iso-8859-15'])
    .optional()
    .describe('The encoding of the file (default UTF-8).'),
  separator: z
    .string()
    .min(1)
    .optional()
    .describe('The separator of list items in a cell (default "; ", or "| " if ";" separates cells).'),
  keys: storeKeys,
  fields: storeFields,
};

/** Where entries are kept: no key holds two things. */
const StoreOptions = z
  .union([
    z.strictObject(folderOptions),
    z.strictObject(linesOptions),
    z.strictObject(collectionOptions),
    z.strictObject(tableOptions),
  ])
  .refine(
    ({ keys = {}, fields = {} }) => {
      const held = [...Object.values(keys).filter((key) => key !== undefined), ...Object.values(fields)];
      return new Set(held).size === held.length;
    },
    { error: 'the same key holds two things here; each has one of its own' },
  );

/** Everything that can be stated about where entries are kept: a folder, files of lines, files of JSON, or tables. */
export const storeOptions = {
  folder: optional(folderOptions.folder),
  lines: optional(linesOptions.lines),
  json: optional(collectionOptions.json),
  at: collectionOptions.at,
  csv: optional(tableOptions.csv),
  delimiter: tableOptions.delimiter,
  separator: tableOptions.separator,
  encoding: tableOptions.encoding,
  type: linesOptions.type,
  keys: storeKeys,
  fields: storeFields,
};

/** The same, where it need not be stated. */
function optional<T extends z.ZodType>(schema: T) {
  return schema.optional().describe(schema.description ?? '');
}

/** The files that a store names, where it is no folder. */
export const filesNamed = (store: StoreOptions): readonly string[] => {
  if ('folder' in store) return [];
  if ('lines' in store) return store.lines;
  if ('json' in store) return store.json;
  return store.csv;
};
/** The options of a store, as lumbrik.yaml has them. */
export type StoreOptions = z.output<typeof StoreOptions>;

/** What the check of a workspace makes of findings. */
export const findingOptions = {
  severity: z
    .partialRecord(
      z.enum(Object.keys(findings) as [FindingName, ...FindingName[]]),
      z.enum(['error', 'warning', 'ignore']),
    )
    .refine((severities) => severities['unreadable-file'] === undefined || severities['unreadable-file'] === 'error', {
      error: 'other findings: what cannot be read is always an error',
    })
    .optional()
    .describe('Severities that differ from the defaults: { unused-asset: ignore, too-long: warning }.'),
  declined: z
    .array(
      z
        .strictObject({
          finding: z.enum(Object.keys(findings) as [FindingName, ...FindingName[]]),
          entry: z.string().optional(),
          field: z.string().optional(),
          file: z.string().optional(),
          because: Sentence,
        })
        .refine(({ finding }) => finding !== 'unreadable-file', {
          error: 'other findings: what cannot be read is always an error',
        })
        .refine(({ entry, field, file }) => [entry, field, file].filter((name) => name !== undefined).length === 1, {
          error: 'one of `entry`, `field` and `file` beside the finding',
        }),
    )
    .optional()
    .describe(
      'Findings that are so on purpose, each with the reason, which the check repeats: { finding: too-long, entry: tour/grand, because: … }.',
    ),
  maxWarnings: z.int().min(0).optional().describe('More warnings than this fail a build.'),
};
const FindingSettings = z.strictObject(findingOptions);

/** What the review of a model leaves out. */
export const adviceOptions = {
  declined: z
    .array(z.strictObject({ advice: Sentence, at: z.string(), because: Sentence }))
    .optional()
    .describe(
      'Advice that is not taken, for good, each with the reason: { advice: long-form, at: lighthouse, because: … }.',
    ),
};
const AdviceSettings = z.strictObject(adviceOptions);
/** The settings of the review. */
export type AdviceSettings = z.output<typeof AdviceSettings>;
/** The settings of the check. */
export type FindingSettings = z.output<typeof FindingSettings>;

/** `lumbrik.yaml`, the file that makes a folder a workspace. */
export const WorkspaceFile = z.strictObject({
  $schema: z.string().optional(),
  workspace: z.string().min(1),
  languages: z
    .array(z.union([LanguageCode, z.strictObject({ language: LanguageCode, ...languageOptions })]))
    .min(1)
    .optional()
    .describe('The languages that its content is written in, the main one first.'),
  builtIn: z
    .strictObject(
      Object.fromEntries(
        builtInFacts.map((name) => [name, z.union([Sentence, z.literal(false)]).optional()]),
      ) as Record<BuiltIn, z.ZodOptional<z.ZodUnion<readonly [typeof Sentence, z.ZodLiteral<false>]>>>,
    )
    .optional()
    .describe(
      'Under which keys stand what every entry has of itself, where its content has fields of these names: { status: state }; false where there is none.',
    ),
  content: z
    .array(StoreOptions)
    .min(1)
    .optional()
    .describe('The stores of its entries (default: the folder content). A type may have several stores.'),
  findings: FindingSettings.optional().describe('Settings of the check.'),
  advice: AdviceSettings.optional().describe('What the review of the model leaves out.'),
  limits: z.strictObject(limitOptions).optional().describe('What its files may cost, where that is more than usual.'),
});
