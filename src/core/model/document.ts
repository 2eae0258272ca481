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
type TaxonomyOptions = z.output<z.ZodObject<typeof taxonomyOptions>>;

/** A model document as JSON: it is made of nothing else. */
export const asJson = (form: object): JsonObject => form as JsonObject;

const Sentence = z.string().min(1);

/** What can be said about a type beside its fields. */
const typeOptions = {
  label: z.strictObject({ one: Sentence, many: Sentence }).exactOptional(),
  about: Sentence.exactOptional(),
  guide: Sentence.exactOptional(),
  titled: z.string().exactOptional(),
  groups: z.array(Sentence).min(1).exactOptional(),
};

/** What can be said about a taxonomy beside its terms. */
const taxonomyOptions = { label: Sentence.exactOptional(), about: Sentence.exactOptional() };

/** What can be said about a term beside its place. */
const termOptions = { label: Sentence.exactOptional(), about: Sentence.exactOptional() };

/** Options that a field of any kind may have, in their normal form. */
export const commonOptions = {
  label: Sentence.exactOptional(),
  help: Sentence.exactOptional(),
  group: Sentence.exactOptional(),
  required: z
    .union([z.boolean(), z.literal('published')])
    .transform((when) => when || undefined)
    .optional(),
  default: z.json().optional(),
  unique: flag,
  many: z
    .union([
      z.boolean().transform((on) => (on ? {} : undefined)),
      z.strictObject({ min: z.int().min(0).optional(), max: z.int().min(1).optional() }),
    ])
    .optional(),
};

export interface CommonOptions {
  readonly label?: string;
  readonly help?: string;
  readonly group?: string;
  readonly required?: true | 'published';
  readonly default?: Json;
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
