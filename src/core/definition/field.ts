import { z } from 'zod';
import type { Json, JsonObject } from '../plain/json.ts';
import type { Status } from './builtIn.ts';
import { flag } from './flag.ts';
import { Sentence, Wording } from './wording.ts';

/** A field's kind and options side by side, as they are in the file. */
export type FieldDoc = JsonObject & { readonly kind: string };

/** The options of a field of any kind. */
export interface CommonOptions {
  readonly label?: Wording;
  readonly help?: Wording;
  readonly example?: Json;
  readonly group?: string;
  readonly required?: true | 'published';
  readonly mayBeEmpty?: true;
  readonly default?: Json;
  readonly computed?: { readonly cel: string } | { readonly count: string };
  readonly localized?: true;
  readonly unique?: true;
  readonly when?: string;
  readonly many?: { readonly min?: number; readonly max?: number; readonly orOne?: true; readonly distinct?: true };
}

/** Options that a field of any kind may have, in their normal form. */
export const commonOptions = {
  label: Wording.exactOptional().describe('What authors call it, where its name said in words will not do.'),
  help: Wording.exactOptional().describe('A sentence for authors, shown beside the field.'),
  example: z
    .json()
    .optional()
    .describe('A value as it should be, shown beside the field. It has to obey the field itself.'),
  group: Sentence.exactOptional().describe('The group of the form that shows it; one of the groups of the type.'),
  required: z
    .union([z.boolean(), z.literal('published')])
    .transform((when) => when || undefined)
    .optional()
    .describe('Whether an entry must have it: always, or only once it is published.'),
  when: Sentence.exactOptional().describe(
    'A CEL condition over `entry`, where the field applies to some entries alone: `entry.form == "tower"`. Elsewhere it has to be absent, and only there it is required.',
  ),
  mayBeEmpty: flag.describe('An empty text, list or group of keys counts as a value. Default: they count as no value.'),
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
      z.strictObject({ min: z.int().min(0).optional(), max: z.int().min(1).optional(), orOne: flag, distinct: flag }),
    ])
    .optional()
    .describe(
      'A list instead of one value: true, or with the fewest and most items as { min: 1, max: 8 }. { orOne: true } also allows one value without a list. { distinct: true } forbids equal items.',
    ),
};

/** Whether an entry of some status needs a value under this `required`. */
export const isRequiredOf = (required: Json | undefined, status: Status): boolean =>
  required === true || (required === 'published' && status === 'published');
