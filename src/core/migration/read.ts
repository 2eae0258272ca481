import { z } from 'zod';
import { type Mistake, parseWith } from '../model/mistakes.ts';
import { compact, isObject, type Json, type JsonObject, ownValue, type Path } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import type { Outcome } from '../plain/outcome.ts';
import { list } from '../plain/words.ts';
import type { AnswerForm, StepKind } from './step.ts';
import { steps } from './steps/index.ts';

/** A migration as its file says it: the way from one model to another, step by step. */
export interface Migration {
  readonly number: number;
  readonly about: string;
  /** The hash of the model that the entries obey before. */
  readonly from: string;
  /** The hash of the model that they obey after. */
  readonly to: string;
  readonly steps: readonly MigrationStep[];
  /** Addresses of refused renames and moves. */
  readonly apart: readonly string[];
}

/** A step of a migration, read and validated. */
export interface MigrationStep {
  /** Counts from 1. */
  readonly number: number;
  readonly kind: StepKind;
  /** The address that the step is about. */
  readonly address: string;
  /** What the step says, without its open question. */
  readonly data: JsonObject;
  /** A question that only a person can answer, while it is not answered: so long the migration does not run. */
  readonly open?: string;
  /** The question, where it is answered. */
  readonly answered?: string;
  /** What entries get where the question is answered with yes. */
  readonly suggest?: JsonObject;
  /** The ways in which its question can be answered. */
  readonly answers: readonly AnswerForm[];
}

/** The optional keys of a step: a question and its answer. */
export const questionShape = {
  open: z.string().optional().describe('A question that only a person can answer; the migration does not run before.'),
  suggest: z
    .strictObject({ value: z.json().optional(), cel: z.string().optional() })
    .optional()
    .describe('What entries get if the answer is yes; after a no they are left to their authors.'),
  answer: z
    .union([z.enum(['yes', 'no']), z.boolean()])
    .optional()
    .describe('The answer to `open`: yes or no.'),
};

const Hash = z.string().regex(/^[0-9a-f]{64}$/u, 'the hash of a model, as `lumbrik history` shows it');

/** The schema of a migration file. */
export const MigrationFile = z.strictObject({
  $schema: z.string().optional(),
  migration: z.int().min(1),
  about: z.string(),
  from: Hash,
  to: Hash,
  apart: z
    .array(z.string())
    .optional()
    .describe('Refused guesses: addresses that were neither renamed nor moved; `tour.town=city` refuses one name.'),
  steps: z.array(z.json()),
});

/** Reads the data of a migration's file, or names every mistake in it. */
export function readMigration(data: Json): Outcome<Migration, readonly Mistake[]> {
  const parsed = parseWith(MigrationFile, data, 'a migration');
  if ('problem' in parsed) return parsed;

  const { migration: number, about, from, to, apart = [] } = parsed.value;
  const read = parsed.value.steps.map((step, index) => readStep(step, ['steps', index]));
  const mistakes = read.flatMap((outcome) => ('problem' in outcome ? outcome.problem : []));
  if (mistakes.length > 0) return { problem: mistakes };

  const steps = withTakenOver(read.flatMap((outcome) => ('value' in outcome ? [outcome.value] : [])));
  return { value: { number, about, from, to, steps, apart } };
}

/** The keys of a step that say how values are carried over. */
const ways = ['split', 'written', 'by', 'inside'] as const;
/** The keys of a step that say what entries get. */
const fills = ['value', 'cel'] as const;

/** Steps with what others of their kind were answered, where they say that it goes for them too. */
function withTakenOver(steps: readonly MigrationStep[]): readonly MigrationStep[] {
  return steps.map((step) => {
    const { like, value, cel } = step.data;
    const leader = steps.find(
      ({ kind, address }) => kind === step.kind && address === like && address !== step.address,
    );
    if (!leader) return step;

    const isFilled = value !== undefined || cel !== undefined;
    const takenOver = isFilled ? ways : [...ways, ...fills];
    const shared = Object.fromEntries(takenOver.map((key) => [key, ownValue(leader.data, key)]));
    return { ...step, data: compact({ ...step.data, ...shared }) };
  });
}

/** The ways in which the question of a step can be answered. */
function answersTo({ kind, written, suggest }: StepQuestion): readonly AnswerForm[] {
  const forms = kind.answers(written);
  const isLeftByNo = isObject(suggest) && !forms.includes('no');
  if (!isLeftByNo) return forms;
  return ['yes', 'no', ...forms.filter((form) => form !== 'yes')];
}

interface StepQuestion {
  readonly number: number;
  readonly kind: StepKind;
  /** What the step says beside its question. */
  readonly written: JsonObject;
  readonly answer: Json | undefined;
  readonly suggest: Json | undefined;
}

/** What a step says once its question is answered: with the suggestion after a yes, in another way after a no. */
function decidedBy(question: StepQuestion): Outcome<JsonObject, Omit<Mistake, 'path'>> {
  const { kind, written, answer, suggest } = question;
  const isFilled = written.value !== undefined || written.cel !== undefined;
  const isNo = answer === 'no' || answer === false;
  if (isNo && !answersTo(question).includes('no')) return { problem: noNo(question) };
  if (isNo && kind.guess) return { problem: noNo(question) };
  if (isNo && !isObject(suggest)) return { value: kind.no?.(written) ?? written };

  const isTaken = isObject(suggest) && answer !== undefined && !isNo && !isFilled;
  return { value: isTaken ? { ...written, ...suggest } : written };
}

/** The mistake of a step that cannot go on from a no. */
function noNo({ number, kind, written }: StepQuestion): Omit<Mistake, 'path'> {
  const message = `a step \`${kind.verb}\` does not go on from a no`;
  const forms = kind.answers(written).filter((form) => form !== 'yes');
  if (kind.guess)
    return {
      says: message,
      mend: `Take the line out, and have the steps worked out without it: lumbrik migration answer --step ${number} --no`,
    };
  if (forms.length === 0) return { says: message, mend: 'Write `answer: yes`, or change the step.' };
  return {
    says: message,
    mend: `Write ${list(
      forms.map((form) => `\`${form}: …\``),
      'or',
    )}.`,
  };
}

/** That something which is no group of keys stands where a step should. */
const noStep = (path: Path): Mistake => ({
  path,
  says: 'a step is no group of keys',
  mend: `Start it with a verb and an address: \`- rename: lighthouse.height\`. The verbs are ${list([...steps.keys()])}.`,
});

/** That a step starts with no verb. */
function unknownVerb(data: JsonObject, path: Path): Mistake {
  const verbs = [...steps.keys()];
  const [first = ''] = Object.keys(data);
  return {
    path: [...path, first],
    atKey: true,
    says: `there is no step \`${first}\``,
    mend: didYouMean(first, verbs) ?? `The steps are ${list(verbs)}.`,
  };
}

/** Reads one step. @param path where it stands: its number is the last of it, from 0. */
export function readStep(data: Json, path: Path): Outcome<MigrationStep, readonly Mistake[]> {
  if (!isObject(data)) return { problem: [noStep(path)] };

  const verb = Object.keys(data).find((key) => steps.has(key));
  const kind = verb === undefined ? undefined : steps.get(verb);
  if (verb === undefined || !kind) return { problem: [unknownVerb(data, path)] };

  const schema = z.strictObject({ ...kind.shape, ...questionShape });
  const parsed = parseWith<Readonly<Record<string, unknown>>>(schema, data, `a step \`${verb}\``);
  if ('problem' in parsed)
    return { problem: parsed.problem.map((mistake) => ({ ...mistake, path: [...path, ...mistake.path] })) };

  const { open, answer, suggest, ...written } = parsed.value as JsonObject;
  const isAnswered = [answer, written.value, written.cel, written.use].some((value) => value !== undefined);
  const number = Number(path.at(-1)) + 1;
  const question = { number, kind, written, answer, suggest };
  const decided = decidedBy(question);
  if ('problem' in decided) return { problem: [{ ...decided.problem, path: [...path, 'answer'] }] };

  const decision = decided.value;
  const address = String(ownValue(decision, verb));

  return {
    value: compact({
      number,
      kind,
      address,
      data: decision,
      open: typeof open === 'string' && !isAnswered ? open : undefined,
      answered: typeof open === 'string' && isAnswered ? open : undefined,
      suggest: isObject(suggest) ? suggest : undefined,
      answers: answersTo(question),
    }),
  };
}
