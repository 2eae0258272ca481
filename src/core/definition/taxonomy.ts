import { z } from 'zod';
import { flag } from './flag.ts';
import { Sentence, Wording } from './wording.ts';

type TaxonomyOptions = Omit<z.output<z.ZodObject<typeof taxonomyOptions>>, 'open'> & { readonly open?: true };

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

/** A term as it stands in a file: its identifier alone, or with more about it. */
export const TermEntry = z.union([
  z.string(),
  z.strictObject({ term: z.string(), ...termOptions, terms: z.json().optional() }),
  z.strictObject({ also: z.string() }),
]);

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
