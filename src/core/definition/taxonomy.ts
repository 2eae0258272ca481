import { z } from 'zod';
import type { Json } from '../plain/json.ts';
import { flag } from './flag.ts';
import { Sentence, Wording } from './wording.ts';

type TaxonomyOptions = Omit<z.output<z.ZodObject<typeof taxonomyOptions>>, 'open'> & { readonly open?: true };

/** A taxonomy in the normal form: its options, terms by name, and their tree. */
export type TaxonomyDoc = TaxonomyOptions & {
  readonly terms: Readonly<Record<string, TermDoc>>;
  readonly tree: readonly Branch[];
};

/** A term's place in the hierarchy, with the terms below it in the order given by hand. */
export type Branch = {
  readonly term: string;
  /** Whether this is a further place of the term; the terms below it are at its first place. */
  readonly also?: true;
  readonly terms?: readonly Branch[];
};

/** A term in the normal form. */
export type TermDoc = Omit<z.output<z.ZodObject<typeof termOptions>>, 'retired'> & {
  readonly retired?: true | { readonly use: string };
};

/** Terms are read one by one: the terms below one follow when it is their turn. */
const readApart = z.custom<Json>(() => true);

/** What other programs say of a thing, and a model has no word for. */
export type Facts = z.output<typeof Facts>;
const Facts = z
  .record(
    z.string(),
    z
      .array(
        z.union([
          z.string(),
          z.strictObject({ iri: Sentence }),
          z.strictObject({ text: z.string(), language: Sentence.exactOptional(), type: Sentence.exactOptional() }),
        ]),
      )
      .min(1),
  )
  .describe(
    'Statements in other vocabularies, by property: { skos:notation: [A1], skos:exactMatch: [{ iri: … }] }. An export gives them back.',
  );

/** A group of terms beside the hierarchy. */
export type Collection = z.output<typeof Collection>;
const Collection = z.strictObject({
  label: Wording.exactOptional(),
  members: z.array(z.string()).min(1),
  ordered: flag,
  iri: Sentence.exactOptional(),
  facts: Facts.exactOptional(),
});

/** What can be stated about a taxonomy beside its terms. */
export const taxonomyOptions = {
  label: Wording.exactOptional().describe('Its display name.'),
  about: Wording.exactOptional().describe('The purpose of the taxonomy.'),
  open: flag.describe(
    'Whether authors add terms while they write. The terms of an open taxonomy are content, in content/<taxonomy>.terms.yaml.',
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
  iri: Sentence.exactOptional().describe(
    'What the addresses (IRIs) begin with under which other programs know its terms: https://gannet.example/regions/.',
  ),
  scheme: Sentence.exactOptional().describe('The address (IRI) of the taxonomy itself, where it is another one.'),
  collections: z
    .array(Collection)
    .min(1)
    .exactOptional()
    .describe(
      'Groups of its terms beside the hierarchy: { label, members }, in an order of their own where they are `ordered`.',
    ),
  facts: Facts.exactOptional(),
};

/** What can be stated about a term beside its place. */
export const termOptions = {
  label: Wording.exactOptional().describe('What readers see.'),
  about: Wording.exactOptional().describe('What belongs under it.'),
  synonyms: z
    .union([z.array(Sentence).min(1), z.record(z.string(), z.array(Sentence).min(1))])
    .exactOptional()
    .describe('Other words for it, as a list or a list per language. A check suggests the term for them.'),
  retired: z
    .union([z.boolean().transform((on) => on || undefined), z.strictObject({ use: z.string() })])
    .optional()
    .describe(
      'That it is used no more; with the term that replaces it as { use: holm-bay }. Entries that have it keep it.',
    ),
  iri: Sentence.exactOptional().describe(
    'Its address (IRI) in other programs. Default: the address of the taxonomy and its name.',
  ),
  facts: Facts.exactOptional(),
};

/** A term as it is in a file: its identifier alone, or with more about it. */
export const TermEntry = z.union([
  z.string(),
  z.strictObject({ term: z.string(), ...termOptions, terms: readApart.optional() }),
  z.strictObject({ also: z.string() }),
]);

/** The outermost keys of a taxonomy's file. */
export const TaxonomyFile = z.strictObject({
  $schema: z.string().optional(),
  taxonomy: z.string(),
  ...taxonomyOptions,
  terms: readApart.optional(),
});

/** A file of terms that are kept with the content: `content/<taxonomy>.terms.yaml`. */
export const ContentTermsFile = z.strictObject({
  $schema: z.string().optional(),
  taxonomy: z.string(),
  terms: readApart.optional(),
});
