import { z } from 'zod';
import type { Json, JsonObject } from '../json.ts';
import { flag } from '../kinds/define.ts';
import { usualLimits } from '../limits.ts';
import { groupThousands } from '../words.ts';
import { isName, nameRule } from './address.ts';
import type { Shared } from './shared.ts';
import { Wording } from './wording.ts';

/**
 * The model in its normal form: plain data in which everything is said in one way and nothing that goes without saying
 * is said. Hashing, comparing and migrating work on this; {@link link} makes it into something to look things up in.
 */
export interface ModelDoc {
  /** The languages of the workspace (BCP 47), the main one first. */
  readonly languages: readonly string[];
  /** What goes for each of them, where anything is said. */
  readonly languageOptions?: LanguageOptions;
  /** Each type whole: what it takes from kits, base types and shared definitions is written out in it. */
  readonly types: Readonly<Record<string, TypeDoc>>;
  readonly taxonomies: Readonly<Record<string, TaxonomyDoc>>;
  /** What is kept once and used in many types, and which types use it. Absent where nothing is shared. */
  readonly shared?: Shared;
}
export type LanguageOptions = Readonly<
  Record<string, { readonly required?: true | 'published'; readonly fallback?: readonly string[] }>
>;
export type TypeDoc = TypeOptions & { readonly fields: Readonly<Record<string, FieldDoc>> };
/** A field's kind and options side by side, as they stand in the file. */
export type FieldDoc = JsonObject & { readonly kind: string };
export type TaxonomyDoc = TaxonomyOptions & {
  readonly terms: Readonly<Record<string, TermDoc>>;
  readonly tree: readonly Branch[];
};
/** A term's place in the hierarchy, with the terms below it in the order given by hand. */
export type Branch = {
  readonly term: string;
  /** Whether the term stands here too, and first elsewhere: what is below it stands there. */
  readonly also?: true;
  readonly terms?: readonly Branch[];
};
export type TermDoc = Omit<z.output<z.ZodObject<typeof termOptions>>, 'retired'> & {
  readonly retired?: true | { readonly use: string };
};
type TypeOptions = z.output<z.ZodObject<typeof typeOptions>>;
/** A condition across the fields of one entry. */
export type Rule = NonNullable<TypeOptions['rules']>[number];
type TaxonomyOptions = Omit<z.output<z.ZodObject<typeof taxonomyOptions>>, 'open'> & { readonly open?: true };

export const statuses = ['draft', 'published', 'archived'] as const;
export type Status = (typeof statuses)[number];

/** A model document as JSON: it is made of nothing else. */
export const asJson = (form: object): JsonObject => form as JsonObject;

const Sentence = z.string().min(1);
const Name = z.string().refine(isName, { error: nameRule });

/** What can be said about a type beside its fields. */
export const typeOptions = {
  label: z
    .strictObject({ one: Wording, many: Wording })
    .exactOptional()
    .describe(
      'Its name in the singular and the plural, where the identifier said in words will not do. Like everything that is said to people, each can be one text or one in each language: { en: …, fr: … }.',
    ),
  about: Wording.exactOptional().describe('What it is, for whoever opens the model next.'),
  guide: Wording.exactOptional().describe('Guidance for authors who write entries.'),
  single: flag.describe('Whether there is exactly one entry of it, such as a home page or the settings of a site.'),
  titled: z.string().exactOptional().describe('The text field that names an entry in lists.'),
  groups: z.array(Sentence).min(1).exactOptional().describe('The parts that split a long form, in order.'),
  order: z
    .array(z.string())
    .min(1)
    .exactOptional()
    .describe(
      'The fields that an author meets first, in this order; the others follow as they stand in the file. Part of the model, unlike the order of lines.',
    ),
  newEntries: z
    .strictObject({
      status: z.enum(statuses).exactOptional(),
      versions: z.boolean().exactOptional(),
      preview: z.enum(['off', 'offered', 'required']).exactOptional(),
      byline: z.boolean().exactOptional(),
    })
    .exactOptional()
    .describe(
      'What new entries start with, and nothing that touches those that exist: their status, whether earlier versions are kept, whether a preview is off, offered or required before saving, whether the byline shows.',
    ),
  previews: z
    .record(z.string(), Sentence)
    .exactOptional()
    .describe(
      'Where an entry can be seen before it is public, by name: addresses with places for its fields, such as https://preview.gannet.example/{language}/lights/{slug}. `id`, `type`, `status` and `language` are there too.',
    ),
  rules: z
    .array(z.strictObject({ expect: Sentence, say: Wording, at: z.string().exactOptional() }))
    .min(1)
    .exactOptional()
    .describe(
      'Conditions across fields: { expect: a CEL condition over `entry`, say: the message, at: the field it is shown at }. Where a field that it names is absent, a rule has nothing to say.',
    ),
};

/** What can be said about a taxonomy beside its terms. */
export const taxonomyOptions = {
  label: Wording.exactOptional().describe('Its display name.'),
  about: Wording.exactOptional().describe('What it classifies, and how.'),
  open: flag.describe(
    'Whether authors add terms while they write. The terms of an open taxonomy are content: what is said about them stands in content/<taxonomy>.terms.yaml.',
  ),
  borrows: z
    .array(z.string())
    .min(1)
    .exactOptional()
    .describe(
      'Terms of other taxonomies that may be used here too, each with all below it: region:north, or region: for all.',
    ),
  address: Sentence.exactOptional().describe(
    'The address that readers find a term at, made by a pattern: /coast/{path}. {taxonomy}, {term}, {path} and {language} are filled in.',
  ),
};

/** What can be said about a term beside its place. */
export const termOptions = {
  label: Wording.exactOptional().describe('What readers see.'),
  about: Wording.exactOptional().describe('What belongs under it.'),
  synonyms: z
    .union([z.array(Sentence).min(1), z.record(z.string(), z.array(Sentence).min(1))])
    .exactOptional()
    .describe('Other words for it, as a list or a list in each language: whoever writes one is told the term.'),
  retired: z
    .union([z.boolean().transform((on) => on || undefined), z.strictObject({ use: z.string() })])
    .optional()
    .describe(
      'That it is used no more; with the term that replaces it as { use: holm-bay }. Entries that have it keep it.',
    ),
};

/** Options that a field of any kind may have, in their normal form. */
export const commonOptions = {
  label: Wording.exactOptional().describe('What authors call it, where its name said in words will not do.'),
  help: Wording.exactOptional().describe('A sentence for authors, shown beside the field.'),
  example: z
    .json()
    .optional()
    .describe('A value as it should be, shown beside the field. It has to obey the field itself.'),
  group: Sentence.exactOptional().describe('The part of the form that it stands in; one of the groups of the type.'),
  required: z
    .union([z.boolean(), z.literal('published')])
    .transform((when) => when || undefined)
    .optional()
    .describe('Whether an entry must have it: always, or only once it is published.'),
  default: z.json().optional().describe('What new entries start with. Entries that exist are never touched by it.'),
  computed: z
    .union([
      z.string().transform((cel) => ({ cel })),
      z.strictObject({ cel: Sentence }),
      z.strictObject({ count: Sentence }),
    ])
    .optional()
    .describe(
      'That its value follows from others: a CEL expression over `entry`, or { count: departure.tour }, the number of entries that point here by that field. A stored value that differs is a finding.',
    ),
  localized: flag.describe(
    'Whether it has a value in each language of the workspace: { en: …, fr: … }. The first language is the one that has to be there.',
  ),
  unique: flag.describe('Whether no two entries of the type may have the same value.'),
  many: z
    .union([
      z.boolean().transform((on) => (on ? {} : undefined)),
      z.strictObject({ min: z.int().min(0).optional(), max: z.int().min(1).optional() }),
    ])
    .optional()
    .describe('A list instead of one value: true, or with the fewest and most items as { min: 1, max: 8 }.'),
};

export interface CommonOptions {
  readonly label?: Wording;
  readonly help?: Wording;
  readonly example?: Json;
  readonly group?: string;
  readonly required?: true | 'published';
  readonly default?: Json;
  readonly computed?: { readonly cel: string } | { readonly count: string };
  readonly localized?: true;
  readonly unique?: true;
  readonly many?: { readonly min?: number; readonly max?: number };
}

/** What a type takes from elsewhere. */
export const useOptions = {
  extends: Name.exactOptional().describe(
    'The type that it extends: it takes over the fields, groups and rules of that type, and stands wherever that type is accepted.',
  ),
  kits: z
    .array(Name)
    .min(1)
    .exactOptional()
    .describe('The kits whose fields it has too. A field of the same name here can only narrow what the kit says.'),
};

/** The outermost keys of a type's file. Fields are read one by one, each with the schema of its kind. */
export const TypeFile = z.strictObject({
  $schema: z.string().optional(),
  type: z.string(),
  ...useOptions,
  ...typeOptions,
  fields: z.json().optional(),
});

/** The outermost keys of a taxonomy's file. */
export const TaxonomyFile = z.strictObject({
  $schema: z.string().optional(),
  taxonomy: z.string(),
  ...taxonomyOptions,
  terms: z.json().optional(),
});

/** A file of terms that are kept with the content: `content/<taxonomy>.terms.yaml`. */
export const ContentTermsFile = z.strictObject({
  $schema: z.string().optional(),
  taxonomy: z.string(),
  terms: z.json().optional(),
});

/** A term as it stands in a file: its identifier alone, or with more about it. */
export const TermEntry = z.union([
  z.string(),
  z.strictObject({ term: z.string(), ...termOptions, terms: z.json().optional() }),
  z.strictObject({ also: z.string() }),
]);

const LanguageCode = z
  .string()
  .regex(/^[a-z]{2,3}(?:-[A-Za-z0-9]{2,8})*$/u, 'a BCP 47 language code such as en or fr-CA');

/** What can be said about a language of the workspace beside its code. */
export const languageOptions = {
  required: commonOptions.required.describe(
    'Whether what a field requires is required in this language too: always, or only once published. The main language always is.',
  ),
  fallback: z
    .array(LanguageCode)
    .min(1)
    .optional()
    .describe('The languages that are read instead where nothing is said in this one, in order; else the main one.'),
};

/** The options of languages in their normal form. */
export const LanguageOptionsForm = z.record(z.string(), z.strictObject(languageOptions));

/** What a workspace may say of its limits. They bound what a file may cost, so that none stops the tool. */
export const limitOptions = {
  expressionSteps: z
    .int()
    .min(1_000)
    .max(1_000_000_000)
    .optional()
    .describe(
      `The most steps that one expression may take over one entry, a step being a value that is looked at inside a loop (all, exists, map, filter); ${groupThousands(usualLimits.expressionSteps)} if nothing is said.`,
    ),
  fileNodes: z
    .int()
    .min(1_000)
    .max(100_000_000)
    .optional()
    .describe(
      `The most keys, values and items that one file may hold; ${groupThousands(usualLimits.fileNodes)} if nothing is said. A thousand take about a megabyte of memory while they are read.`,
    ),
  fileMegabytes: z
    .int()
    .min(1)
    .max(1_024)
    .optional()
    .describe(`The largest file that is read, in megabytes; ${usualLimits.fileMegabytes} if nothing is said.`),
};

/** `lumbrik.yaml`, the file that makes a folder a workspace. */
export const WorkspaceFile = z.strictObject({
  $schema: z.string().optional(),
  workspace: z.string().min(1),
  languages: z
    .array(z.union([LanguageCode, z.strictObject({ language: LanguageCode, ...languageOptions })]))
    .min(1)
    .optional()
    .describe('The languages that its content is written in, the main one first.'),
  limits: z.strictObject(limitOptions).optional().describe('What its files may cost, where that is more than usual.'),
});

/** Names that every entry has of itself; no model may define a field with one of them. */
export const reservedNames = ['id', 'type', 'status', 'created', 'changed', 'publicFrom', 'publicUntil'] as const;
