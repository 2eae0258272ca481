import type { JsonObject } from '../plain/json.ts';
import type { Ids } from './ids.ts';

/** What fields are learnt beside. */
export interface Learning {
  /** So large a share of values may be otherwise: they are odd, not a reason for a loose model. */
  readonly tolerated: number;
  /** Whether texts may stand for numbers: in a table. */
  readonly isTable: boolean;
  readonly ids: Ids;
  readonly isLanguage: (key: string) => boolean;
  /** Whether a text is the name of a file that entries can show. */
  readonly isAsset: (text: string) => boolean;
  /** Notes languages in which values are written. */
  readonly speak: (languages: readonly string[]) => void;
  /** The taxonomy that the values of a field can be terms of; nothing where they make none. */
  readonly taxonomyOf: (field: string) => string | undefined;
  /** Notes the terms that values are of. @param address the field. */
  readonly classify: (taxonomy: string, address: string, terms: readonly string[]) => void;
  /** What a field is in, as addresses begin: `keeper.`; nothing where it has no address to itself. */
  readonly above: string | undefined;
  /** What a person says of fields, by their addresses. */
  readonly said: ReadonlyMap<string, FieldAnswers>;
  /** Notes what a person says of a field that cannot be so. @param can the kinds that it can be of. */
  readonly refuse: (address: string, kind: string, can: readonly string[]) => void;
}

/** What a person says of a field. */
export interface FieldAnswers {
  readonly kind?: string;
  readonly isRequired?: boolean;
}

/** What single values in a place are treated as. */
export interface Value {
  /** What a model says of them. */
  readonly definition: JsonObject;
  /** What speaks for it. */
  readonly reason: string;
  /** How many of them speak against it. */
  readonly against: number;
  /** The fields inside them. */
  readonly fields: readonly LearntField[];
  /** The terms that they are, of a taxonomy. */
  readonly terms?: readonly string[];
  /** Their alternatives, which become a question. */
  readonly doubt?: Doubt;
}

/** That values may be of another kind than the learnt one. */
export interface Doubt {
  readonly asks: string;
  readonly others: readonly Value[];
}

/** A field as it was learnt. */
export interface LearntField {
  readonly name: string;
  /** What a model says of it. */
  readonly definition: JsonObject;
  /** What speaks for that. */
  readonly evidence: string;
  /** How many values speak against it. */
  readonly against: number;
  /** The fields inside it. */
  readonly fields: readonly LearntField[];
  /** Uncertain parts. */
  readonly questions: readonly OpenQuestion[];
}

/** Fields with those inside them, by their paths below their holder. */
export const fieldsBelow = (
  fields: readonly LearntField[],
  above = '',
): readonly { readonly path: string; readonly field: LearntField }[] =>
  fields.flatMap((field) => {
    const path = above + field.name;
    return [{ path, field }, ...fieldsBelow(field.fields, `${path}.`)];
  });

/** What entries leave open, and a person can say. */
export interface OpenQuestion {
  readonly about: 'kind' | 'required';
  readonly asks: string;
  /** The different texts that are there, where they are few. */
  readonly words: readonly string[];
  /** The possible answers; the first is the default. */
  readonly answers: readonly [OpenAnswer, ...OpenAnswer[]];
}

interface OpenAnswer {
  /** The word for it: a kind, `required` or `optional`. */
  readonly as: string;
  /** What the model says of the field then; nothing where only that it is required changes. */
  readonly says?: JsonObject;
  readonly why: string;
}

/** A guess about values: the definition, its reason, and the number of exceptions. */
export const value = (object: JsonObject, reason: string, against = 0, fields: readonly LearntField[] = []): Value => ({
  definition: object,
  reason,
  against,
  fields,
});

/** A limit with some room above the largest value. */
export function roundUp(longest: number): number {
  for (let power = 10; ; power *= 10)
    for (const step of [1, 1.5, 2, 3, 4, 6, 8]) if (step * power >= 1.1 * longest) return step * power;
}
