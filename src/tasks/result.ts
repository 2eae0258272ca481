import { z } from 'zod';
import { JsonValue } from '../core/plain/jsonValue.ts';

/** The version of the result objects: it goes up when something that was there means something else or is gone. */
export const resultVersion = 1;

/** What every result starts with. */
export const head = <C extends string>(command: C) => ({
  lumbrik: z.literal(resultVersion),
  command: z.literal(command),
});

/** A revision in short. */
export const RevisionGist = z.strictObject({
  revision: z.int(),
  version: z.string(),
  date: z.string(),
  message: z.string(),
});

/** Which model the entries obey. */
export const ContentState = z.strictObject({
  /**
   * `here`: the model in the working files. `fits`: an older one, and nothing has to be migrated. `behind`: an older
   * one, and a migration is missing. `unrecorded`: nothing was recorded yet. `unknown`: a model that no revision records.
   */
  state: z.enum(['here', 'fits', 'behind', 'unrecorded', 'unknown']),
  /** The revision that the entries obey, if it is recorded. */
  revision: z.int().optional(),
  /** The migration that leads on from there, if one is drafted. */
  migration: z.string().optional(),
});
export type ContentState = z.output<typeof ContentState>;

/** The effect of a change on entries and on readers, in results. */
export const Rating = {
  /** What a change does to entries. */
  entries: z.enum(['valid', 'migrate', 'lose']),
  /** Its effect on readers of the content. */
  readers: z.enum(['unaffected', 'notice', 'break']),
};

const Example = {
  entry: z.string(),
  value: JsonValue.optional(),
  /** Why the value cannot be kept as it is. */
  why: z.string().optional(),
};

const Impact = z.strictObject({
  hits: z.int(),
  of: z.int(),
  worst: z.strictObject({ ...Example, size: z.number() }).optional(),
  examples: z.array(z.strictObject(Example)),
  says: z.string(),
  /** Whether the step does by itself what has to be done to them. */
  isSettled: z.literal(true).optional(),
  /** How the values say themselves that they are better carried over: what a step would say, and why. */
  way: z
    .strictObject({ data: z.record(z.string(), JsonValue), says: z.string(), asks: z.string().optional() })
    .optional(),
  /** A value and its new form, where values are converted. */
  carried: z.string().optional(),
  /** The value that all entries have that have one, where some lack it. */
  usual: JsonValue.optional(),
  /** In how many entries values are carried over into another form. */
  changed: z.int().optional(),
});

/** One change between two models. */
export const Change = z.strictObject({
  change: z.string(),
  address: z.string(),
  says: z.string(),
  ...Rating,
  /** Why readers may notice it, or break. */
  readersWhy: z.string().optional(),
  option: z.string().optional(),
  before: JsonValue.optional(),
  after: JsonValue.optional(),
  /** For a rename: how sure it is, from 0 to 1, and why. */
  sure: z.number().optional(),
  reasons: z.array(z.string()).optional(),
  impact: Impact.optional(),
  /** The fields that a change of something shared arrives at. */
  arrives: z.array(z.string()).optional(),
});
export type Change = z.output<typeof Change>;

/** A finding with the place where it stands. */
export const Mistake = z.strictObject({
  file: z.string(),
  line: z.int(),
  column: z.int(),
  says: z.string(),
  mend: z.string(),
  excerpt: z.string(),
});

/** The JSON of a command that failed. */
export const ErrorResult = z.strictObject({
  lumbrik: z.literal(resultVersion),
  error: z.strictObject({
    code: z.string(),
    says: z.string(),
    where: z.strictObject({ file: z.string(), line: z.int().optional(), column: z.int().optional() }).optional(),
    mend: z.string(),
    also: z.array(z.string()),
  }),
});
export type ErrorResult = z.output<typeof ErrorResult>;
