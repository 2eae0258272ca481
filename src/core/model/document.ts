import { z } from 'zod';
import type { Json, JsonObject } from '../json.ts';
import { flag } from '../kinds/define.ts';

/**
 * The model in its normal form: plain data in which everything is said in one way and nothing that goes without saying
 * is said. Hashing, comparing and migrating work on this; {@link link} makes it into something to look things up in.
 */
export interface ModelDoc {
  readonly languages: readonly string[];
  readonly types: Readonly<Record<string, TypeDoc>>;
  readonly taxonomies: Readonly<Record<string, TaxonomyDoc>>;
}
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
  readonly terms?: readonly Branch[];
};
export type TermDoc = z.output<z.ZodObject<typeof termOptions>>;
type TypeOptions = z.output<z.ZodObject<typeof typeOptions>>;
/** A condition across the fields of one entry. */
export type Rule = NonNullable<TypeOptions['rules']>[number];
type TaxonomyOptions = z.output<z.ZodObject<typeof taxonomyOptions>>;

/** A model document as JSON: it is made of nothing else. */
export const asJson = (form: object): JsonObject => form as JsonObject;

const Sentence = z.string().min(1);

/** What can be said about a type beside its fields. */
export const typeOptions = {
  label: z
    .strictObject({ one: Sentence, many: Sentence })
    .exactOptional()
    .describe('Its name in the singular and the plural, where the identifier said in words will not do.'),
  about: Sentence.exactOptional().describe('What it is, for whoever opens the model next.'),
  guide: Sentence.exactOptional().describe('Guidance for authors who write entries.'),
  single: flag.describe('Whether there is exactly one entry of it, such as a home page or the settings of a site.'),
  titled: z.string().exactOptional().describe('The text field that names an entry in lists.'),
  groups: z.array(Sentence).min(1).exactOptional().describe('The parts that split a long form, in order.'),
  rules: z
    .array(z.strictObject({ expect: Sentence, say: Sentence, at: z.string().exactOptional() }))
    .min(1)
    .exactOptional()
    .describe(
      'Conditions across fields: { expect: a CEL condition over `entry`, say: the message, at: the field it is shown at }. Where a field that it names is absent, a rule has nothing to say.',
    ),
};

/** What can be said about a taxonomy beside its terms. */
export const taxonomyOptions = {
  label: Sentence.exactOptional().describe('Its display name.'),
  about: Sentence.exactOptional().describe('What it classifies, and how.'),
};

/** What can be said about a term beside its place. */
export const termOptions = {
  label: Sentence.exactOptional().describe('What readers see.'),
  about: Sentence.exactOptional().describe('What belongs under it.'),
};

/** Options that a field of any kind may have, in their normal form. */
export const commonOptions = {
  label: Sentence.exactOptional().describe('What authors call it, where its name said in words will not do.'),
  help: Sentence.exactOptional().describe('A sentence for authors, shown beside the field.'),
  group: Sentence.exactOptional().describe('The part of the form that it stands in; one of the groups of the type.'),
  required: z
    .union([z.boolean(), z.literal('published')])
    .transform((when) => when || undefined)
    .optional()
    .describe('Whether an entry must have it: always, or only once it is published.'),
  default: z.json().optional().describe('What new entries start with. Entries that exist are never touched by it.'),
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
  readonly label?: string;
  readonly help?: string;
  readonly group?: string;
  readonly required?: true | 'published';
  readonly default?: Json;
  readonly localized?: true;
  readonly unique?: true;
  readonly many?: { readonly min?: number; readonly max?: number };
}

/** The outermost keys of a type's file. Fields are read one by one, each with the schema of its kind. */
export const TypeFile = z.strictObject({
  $schema: z.string().optional(),
  type: z.string(),
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

/** A term as it stands in a file: its identifier alone, or with more about it. */
export const TermEntry = z.union([
  z.string(),
  z.strictObject({ term: z.string(), ...termOptions, terms: z.json().optional() }),
]);

/** `lumbrik.yaml`, the file that makes a folder a workspace. */
export const WorkspaceFile = z.strictObject({
  $schema: z.string().optional(),
  workspace: z.string().min(1),
  languages: z
    .array(z.string().regex(/^[a-z]{2,3}(?:-[A-Za-z0-9]{2,8})*$/u, 'a BCP 47 language code such as en or fr-CA'))
    .min(1)
    .optional(),
});

/** Names that every entry has of itself; no model may define a field with one of them. */
export const reservedNames = ['id', 'type', 'status', 'created', 'changed', 'publicFrom', 'publicUntil'] as const;
export const statuses = ['draft', 'published', 'archived'] as const;
export type Status = (typeof statuses)[number];
