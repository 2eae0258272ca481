import type { z } from 'zod';
import type { ModelDoc } from '../definition/model.ts';
import type { Model } from '../model/link.ts';
import type { JsonObject } from '../plain/json.ts';
import type { EntryDraft } from './entryDraft.ts';

/** Why a step cannot be taken: about the step itself, never about an entry. */
export class StepRefused extends Error {
  override readonly name = 'StepRefused';
  readonly mend: string;
  /** The key of the step that is wrong; the step as a whole where none is named. */
  readonly key: string | undefined;
  /** How far into the text of that key, in UTF-16 code units. */
  readonly offset: number;

  constructor(message: string, mend: string, key?: string, offset = 0) {
    super(message);
    this.mend = mend;
    this.key = key;
    this.offset = offset;
  }
}

/** The model on both sides of a step. */
export interface StepContext {
  readonly before: Model;
  readonly after: Model;
  /** The order in which a field and those beside it are intended to be met, by the model that the migration leads to. */
  readonly orderOf: (type: string, field: string) => readonly string[];
  /** The choices and the terms of the model from which the migration starts: entries may hold them at any step. */
  readonly knownNames: ReadonlySet<string>;
}

/** How a question is answered: it is so, it is not so, by what entries get, or by which entries it is about. */
export const answerForms = ['yes', 'no', 'written', 'value', 'cel', 'use', 'where'] as const;
/** A form in which a question can be answered. */
export type AnswerForm = (typeof answerForms)[number];

/** What a mere yes does: takes the step as it stands, leaves entries to their authors, or lets values be lost. */
export type YesMeans = 'accept' | 'leave' | 'lose';

/** What a step does to entries. */
export type Taking = (draft: EntryDraft) => void;

/** What an inverse may know of entries beside the models. */
export interface KnownPlaces {
  /** The identifiers of entries that a step sent from one type into another, in the names of after. */
  readonly sent: (from: string, to: string) => readonly string[];
}

/** The model on both sides of a step, for its inverse. */
interface Sides {
  readonly before: ModelDoc;
  readonly after: ModelDoc;
  readonly knownNames: KnownPlaces;
}

/** The same of a step that has to know all entries, as they are before it, before it is treated as the first. */
export interface TakingAll {
  /** Shows an entry; called once for each, in a stable order. */
  readonly see: Taking;
  /** All were shown. */
  readonly seen: () => void;
  readonly take: Taking;
}

type Written<S extends z.ZodRawShape> = Readonly<z.output<z.ZodObject<S>>>;

interface Definition<S extends z.ZodRawShape> {
  /** The first key of the step; its value is the address of the step. */
  readonly verb: string;
  /** One line for anyone who reads a migration for the first time. */
  readonly about: string;
  readonly shape: S;
  /** What the step does, in a sentence: a migration is read aloud by it. */
  readonly say: (step: Written<S>) => string;
  /** The new address of its subject, if it changes. */
  readonly leadsTo?: (step: Written<S>) => string;
  /** The keys beside the verb that hold addresses, too. */
  readonly addresses?: readonly (keyof S & string)[];
  /**
   * For a step guessed from removed and new parts: the guess as `apart` names it. Where it is wrong, the steps are
   * worked out anew without it, and another guess about the same thing may be right.
   */
  readonly guess?: (step: Written<S>) => string;
  /** How a question of the step is answered; where it does not say, by a yes, or by its result to entries. */
  readonly answers?: (step: Written<S>) => readonly AnswerForm[];
  /** What a yes to a question of the step does; where it does not say, it takes the step as it stands. */
  readonly yes?: (step: Written<S>) => YesMeans;
  /** What the step says where its question is answered with no; absent where a no leads to other steps, or is no answer. */
  readonly no?: (step: Written<S>) => JsonObject;
  /** What the step does to the model. @throws {StepRefused} where it does not fit it. */
  readonly model: (step: Written<S>, model: ModelDoc) => ModelDoc;
  /**
   * What the step does to one entry; what cannot be carried on is lost by `holder.lose`. Called once per step, so that
   * expressions are compiled and checked before the first entry is read.
   * @throws {StepRefused} where it cannot be done to any entry.
   */
  readonly entries?: (step: Written<S>, context: StepContext) => Taking | TakingAll;
  /**
   * The steps that take it back, in their order: on the model the rest may be restated after them, on entries
   * all that it did not lose is as it was.
   */
  readonly inverse: (step: Written<S>, sides: Sides) => readonly JsonObject[];
}

/** A step of some kind as the rest of the core sees it. */
export interface StepKind {
  readonly verb: string;
  readonly about: string;
  readonly shape: z.ZodRawShape;
  readonly say: (step: JsonObject) => string;
  readonly leadsTo: ((step: JsonObject) => string) | undefined;
  readonly addresses: readonly string[];
  readonly guess: ((step: JsonObject) => string) | undefined;
  readonly answers: (step: JsonObject) => readonly AnswerForm[];
  readonly yes: (step: JsonObject) => YesMeans;
  readonly no: ((step: JsonObject) => JsonObject) | undefined;
  readonly model: (step: JsonObject, model: ModelDoc) => ModelDoc;
  readonly entries: ((step: JsonObject, context: StepContext) => Taking | TakingAll) | undefined;
  readonly inverse: (step: JsonObject, sides: Sides) => readonly JsonObject[];
}

/**
 * Makes a kind of step from its definition. What a step of this kind looks like is forgotten here and nowhere else:
 * steps are only handed to the kind whose own shape has parsed them, so the cast is true.
 */
export const defineStep = <S extends z.ZodRawShape>(definition: Definition<S>): StepKind =>
  ({
    entries: undefined,
    leadsTo: undefined,
    addresses: [],
    guess: undefined,
    no: undefined,
    yes: (): YesMeans => 'accept',
    answers: (): readonly AnswerForm[] => ('value' in definition.shape ? ['yes', 'value', 'cel'] : ['yes']),
    ...(definition as unknown as Partial<StepKind>),
  }) as StepKind;
