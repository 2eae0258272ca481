import { z } from 'zod';
import { head, resultVersion } from '../result.ts';

const Overview = z.strictObject({
  ...head('terms'),
  what: z.literal('taxonomies'),
  taxonomies: z.array(
    z.strictObject({
      name: z.string(),
      label: z.string(),
      open: z.boolean(),
      terms: z.int(),
      /** Terms that entries use and nobody wrote down. */
      unlisted: z.int(),
      unused: z.int(),
      /** How many entries use any of its terms. */
      entries: z.int(),
    }),
  ),
});

/** A term with its number of entries, and the terms below it. */
export interface CountedTerm {
  readonly term: string;
  readonly label: string;
  /** How many entries use the term itself. */
  readonly entries: number;
  /** How many entries use it or a term below it; an entry counts once. */
  readonly withBelow: number;
  /** Other notes: `retired`, `borrowed from region`, `not written down`, `also in north`. */
  readonly notes: readonly string[];
  readonly address?: string | undefined;
  readonly terms: readonly CountedTerm[];
}
const CountedTerm: z.ZodType<CountedTerm> = z.lazy(() =>
  z.strictObject({
    term: z.string(),
    label: z.string(),
    entries: z.int(),
    withBelow: z.int(),
    notes: z.array(z.string()),
    address: z.string().optional(),
    terms: z.array(CountedTerm),
  }),
);

/** A taxonomy as a tree with counts. */
export const treeShape = {
  name: z.string(),
  label: z.string(),
  about: z.string().optional(),
  open: z.boolean(),
  /** The fields that take its terms. */
  fields: z.array(z.string()),
  terms: z.array(CountedTerm),
  /** What is stated about the one term that was requested. */
  asked: z
    .strictObject({
      term: z.string(),
      about: z.string().optional(),
      /** Its labels by language, where it has several. */
      labels: z.record(z.string(), z.string()),
      synonyms: z.array(z.string()),
      address: z.string().optional(),
      /** Every place that it is in, from the top. */
      places: z.array(z.string()),
    })
    .optional(),
};
const Tree = z.strictObject({ ...head('terms'), what: z.literal('tree'), ...treeShape });

const Entries = z.strictObject({
  ...head('terms'),
  what: z.literal('entries'),
  term: z.string(),
  label: z.string(),
  /** The entries that use the term or one below it, with the terms of these that they use. */
  entries: z.array(
    z.strictObject({
      entry: z.string(),
      title: z.string().optional(),
      status: z.enum(['draft', 'published', 'archived']),
      terms: z.array(z.string()),
    }),
  ),
});

const Twin = z.strictObject({ term: z.string(), label: z.string(), entries: z.int() });

const Alike = z.strictObject({
  ...head('terms'),
  what: z.literal('alike'),
  taxonomy: z.string(),
  terms: z.int(),
  pairs: z.array(
    z.strictObject({
      keep: Twin,
      merge: Twin,
      /** From 0 to 1. */
      sure: z.number(),
      why: z.string(),
      /** The step of a migration that the merge would be. */
      step: z.strictObject({ drop: z.string(), use: z.string() }),
    }),
  ),
});

const Added = z.strictObject({
  ...head('terms'),
  what: z.literal('added'),
  taxonomy: z.string(),
  file: z.string(),
  added: z.array(z.string()),
  /** Terms that are there already, by which of their words. */
  known: z.array(z.strictObject({ term: z.string(), is: z.string(), line: z.int() })),
});

const Made = z.strictObject({
  ...head('terms'),
  what: z.literal('made'),
  taxonomy: z.string(),
  file: z.string(),
  terms: z.int(),
  collections: z.int(),
  /** What of the file is not in it, with how often and where it shows. */
  lost: z.array(z.strictObject({ says: z.string(), count: z.int(), example: z.string() })),
});

/** The result of `lumbrik terms`. */
export const TermsResult = z.discriminatedUnion('what', [Overview, Tree, Entries, Alike, Added, Made]);
export type TermsResult = z.output<typeof TermsResult>;

export const command = { lumbrik: resultVersion, command: 'terms' } as const;
