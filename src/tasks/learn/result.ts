import { z } from 'zod';
import { JsonValue } from '../../core/plain/jsonValue.ts';
import { head } from '../result.ts';
import { Open } from './answers.ts';

export const FieldLearnt = z.strictObject({
  field: z.string(),
  says: z.record(z.string(), JsonValue),
  /** What speaks for it. */
  evidence: z.string(),
  /** How many values, or entries without one, speak against it. */
  against: z.int(),
});

/** The result of `lumbrik learn`. */
export const LearnResult = z.strictObject({
  ...head('learn'),
  workspace: z.string(),
  /** The files that were written. */
  files: z.array(z.string()),
  languages: z.array(z.string()),
  /** What speaks for these languages. */
  languagesBecause: z.string(),
  types: z.array(
    z.strictObject({
      type: z.string(),
      entries: z.int(),
      titled: z.string().optional(),
      fields: z.array(FieldLearnt),
    }),
  ),
  taxonomies: z.array(z.strictObject({ name: z.string(), terms: z.int(), fields: z.array(z.string()) })),
  /** Groups of fields that recur in types, and are kept once. */
  kits: z.array(z.strictObject({ kit: z.string(), fields: z.array(z.string()), types: z.array(z.string()) })),
  /** Keys that no field can be called, with the names of the fields that they hold: lumbrik.yaml says so. */
  keys: z.array(z.strictObject({ field: z.string(), key: z.string() })),
  /** The keys that became the identifiers of entries, by the places where these are kept. */
  identifiers: z.array(z.strictObject({ place: z.string(), key: z.string() })),
  /** Names in the data that no type can be called: their entries are in none. */
  unfit: z.array(z.string()),
  /** Files in which no entries were found, and things in others that cannot be read as one. */
  left: z.array(z.strictObject({ file: z.string(), keys: z.array(z.string()).optional(), because: z.string() })),
  /** What the key `type` holds, where entries of all of these have the same keys: it was treated as a field. */
  alikeTypes: z.array(z.string()),
  unreadable: z.int(),
  /** Some of the files, with the first line of each that could not be. */
  unreadableAt: z.array(z.string()),
  /** Uncertain parts without an answer. */
  questions: z.array(Open),
  /** What a check by the learnt model finds: the odd ones out. */
  errors: z.int(),
  warnings: z.int(),
  summary: z.array(z.strictObject({ finding: z.string(), count: z.int(), about: z.string(), example: z.string() })),
});

export type LearnResult = z.output<typeof LearnResult>;
