import path from 'node:path';
import { z } from 'zod';
import { keyOfField } from '../../core/definition/fieldName.ts';
import { takesFill } from '../../core/migration/fill.ts';
import type { MigrationStep } from '../../core/migration/read.ts';
import { commentsIn } from '../../core/migration/redraft.ts';
import { answerForms } from '../../core/migration/step.ts';
import { link } from '../../core/model/link.ts';
import { fieldAddressed } from '../../core/model/nestedFields.ts';
import { meaningOf } from '../../core/model/writtenTexts.ts';
import { at, compact, isObject, type Json, type JsonObject } from '../../core/plain/json.ts';
import { JsonValue } from '../../core/plain/jsonValue.ts';
import { usualLimits } from '../../core/plain/limits.ts';
import type { Edit } from '../../core/source/editOperation.ts';
import { changeFiles } from '../../journal/change.ts';
import { editedText } from '../../workspace/edited.ts';
import { readTextOrRefuse } from '../../workspace/files.ts';
import type { Workspace } from '../../workspace/open.ts';
import { refuse, Trouble } from '../../workspace/trouble.ts';
import { optionValue } from '../add.ts';
import type { Call } from '../call.ts';
import { findMigration, type MigrationFile } from '../migrationFiles.ts';
import { modelObeyed, modelWith } from '../modelOfEntries.ts';
import { reading, writing } from '../openForCall.ts';
import type { Renames } from '../renameOptions.ts';
import { head, resultVersion } from '../result.ts';
import { draftedAnew } from './draft.ts';
import { checkedText } from './prove.ts';
import { saidIn } from './renamesInSteps.ts';
import { settleQuestions } from './settleQuestions.ts';

const Question = z.strictObject({
  step: z.int(),
  verb: z.string(),
  address: z.string(),
  open: z.string(),
  /** The comment above the step: its reason, and the evidence from entries. */
  says: z.string(),
  /** What the step says already: a way in which the values would be carried over. */
  suggested: z.record(z.string(), JsonValue),
  /** What entries get if the answer is yes. */
  suggest: z.record(z.string(), JsonValue).optional(),
  /** How it can be answered, and what a yes does. */
  answers: z.array(z.enum(answerForms)),
  yes: z.enum(['accept', 'leave', 'lose']),
});
export type Question = z.output<typeof Question>;

/** The result of `lumbrik migration answer`. */
export const AnswerResult = z.strictObject({
  ...head('migration answer'),
  file: z.string(),
  number: z.int(),
  /** The step that was answered; absent where the questions are only listed. */
  answered: z.int().optional(),
  /** The value that a text stands for, where one was given that is written as people write: 350 for “3,5 m” in cm. */
  readAs: JsonValue.optional(),
  /** Steps that ask nothing any more: no entry needs their subject, once this is answered. */
  settled: z.array(z.int()),
  /** Whether the steps were worked out anew, since something was no rename or was not moved. */
  replanned: z.boolean(),
  /** The questions that are left. */
  questions: z.array(Question),
});
export type AnswerResult = z.output<typeof AnswerResult>;

/** An answer to the open question of a step. */
export type Answer =
  | { readonly says: 'yes' | 'no' }
  | {
      readonly says: 'written' | 'value' | 'cel' | 'use' | 'where';
      readonly text: string;
      /** The value that the text stands for, where it is written as people write. */
      readonly value?: Json;
    };

/** The open questions of a migration. */
export async function openQuestions(call: Call, typed: string | undefined): Promise<AnswerResult> {
  const { root } = await reading(call);
  const file = findMigration(root, typed);
  return resultOf(root, file, { replanned: false, settled: [] });
}

/**
 * Answers the question of one step, in its file: beside the question, so that everything else stays as it is. An answer
 * that was given before is replaced. Questions that no entry asks any more, because of the answer, are settled with it.
 */
export async function answerQuestion(
  call: Call,
  typed: string | undefined,
  step: number | undefined,
  answer: Answer,
): Promise<AnswerResult> {
  const { file, answered, readAs, replanned } = await writeAnswer(call, typed, step, answer);
  const settled = await settleQuestions(call, file);
  const { root } = await reading(call);
  return resultOf(root, findMigration(root, file), { answered, readAs, replanned, settled });
}

async function writeAnswer(call: Call, typed: string | undefined, step: number | undefined, answer: Answer) {
  return writing(call, async (workspace) => {
    const file = findMigration(workspace.root, typed);
    const askedStep = stepAsked(file, step);
    const forms = askedStep.answers;
    if (!forms.includes(answer.says))
      throw new Trouble(
        'unusable-answer',
        `step ${askedStep.number} asks “${askedStep.open ?? askedStep.answered}”, and that is not answered so`,
        { mend: `It takes ${forms.map((form) => `--${form}`).join(', ')}.`, where: { file: file.file } },
      );

    const isApart = answer.says === 'no' && askedStep.kind.guess !== undefined;
    const readAs = answer.says === 'value' ? valueMeant(workspace, file, askedStep, answer.text) : undefined;
    const text = isApart
      ? await withoutGuess(call, workspace, file, askedStep)
      : await answeredText(workspace, file, askedStep, withValue(answer, readAs));
    changeFiles(workspace.root, [{ file: file.file, text, from: file.hash }]);

    return { file: path.basename(file.file), answered: askedStep.number, readAs, replanned: isApart };
  });
}

/** An answer that gives the value which its text stands for. */
const withValue = (answer: Answer, value: Json | undefined): Answer => {
  if (value === undefined || !('text' in answer)) return answer;
  return { ...answer, value };
};

/**
 * What a text stands for that a person gives as the value of a field, and that is written as people write: `3,5 m`. Nothing
 * where it is a value as it is, or may mean several.
 */
function valueMeant(
  workspace: Workspace,
  { migration }: MigrationFile,
  { address }: MigrationStep,
  text: string,
): Json | undefined {
  const after = modelWith(migration.to, workspace);
  const model = after && link(after.definition);
  const field = model && fieldAddressed(model, address);
  if (!field || field.common.many || takesFill(optionValue(text), field, model)) return undefined;

  const { values, isSure } = meaningOf(text, field, model.context);
  if (!isSure) return undefined;
  return values[0];
}

/** The keys of a step by which it says how values are carried over. */
const suggestedKeys: ReadonlySet<string> = new Set(
  'split written by inside cel value to where at as and with merge'.split(' '),
);

/** What an answer did. */
interface Answered {
  readonly answered?: number;
  readonly readAs?: Json | undefined;
  readonly replanned: boolean;
  readonly settled: readonly number[];
}

function resultOf(
  root: string,
  { file, migration, source }: MigrationFile,
  { answered, readAs, replanned, settled }: Answered,
): AnswerResult {
  const comments = commentsIn({ text: readTextOrRefuse(path.join(root, file), file, usualLimits), source, migration });
  return compact({
    lumbrik: resultVersion,
    command: 'migration answer',
    file,
    number: migration.number,
    answered,
    readAs: readAs as AnswerResult['readAs'],
    settled: [...settled],
    replanned,
    questions: migration.steps.flatMap((step) => {
      const { number, kind, address, open, data, suggest } = step;
      if (open === undefined) return [];

      const suggested = Object.fromEntries(
        Object.entries(data).filter(([key]) => suggestedKeys.has(key) && key !== kind.verb),
      );

      return [
        compact({
          step: number,
          verb: kind.verb,
          address,
          open,
          says: comments[number - 1] ?? '',
          suggested,
          suggest: suggest as Question['suggest'],
          answers: [...step.answers],
          yes: suggest ? ('accept' as const) : kind.yes(data),
        }),
      ];
    }),
  });
}

/** The step that is answered: the one that is named, or the only one that asks. @throws {Trouble} */
function stepAsked({ file, migration }: MigrationFile, number: number | undefined): MigrationStep {
  const asking = migration.steps.filter(({ open }) => open !== undefined);
  const [first, ...rest] = asking;
  const names = asking.map((migrationStep) => migrationStep.number).join(', ');
  const answered = migration.steps.find((step) => step.number === number && step.answered !== undefined);
  if (answered) return answered;
  if (!first)
    throw new Trouble('nothing-asked', `${file} asks nothing`, {
      mend: 'See the effect: lumbrik migration rehearse',
    });
  if (number === undefined && rest.length > 0)
    throw new Trouble('unusable-call', `${file} asks several things`, { mend: `Say which: --step ${names}` });

  const step = number === undefined ? first : asking.find((migrationStep) => migrationStep.number === number);
  if (step) return step;
  throw new Trouble('unusable-call', `step ${number} of ${file} asks nothing`, { mend: `These do: ${names}.` });
}

/** The file with an answer in it. @throws {Trouble} where the step would not fit any more. */
async function answeredText(
  workspace: Workspace,
  file: MigrationFile,
  step: MigrationStep,
  answer: Answer,
): Promise<string> {
  const before = readTextOrRefuse(path.join(workspace.root, file.file), file.file, usualLimits);
  const text = editedText(file.file, before, editsFor(step, answer, file));
  return checkedText(workspace, file, text);
}

/** The keys of a step that hold an answer. */
const answerKeys = ['value', 'cel', 'use', 'answer'] as const;

/** The edits that write an answer into its step; what was answered before goes. */
function editsFor(step: MigrationStep, answer: Answer, { source }: MigrationFile): readonly Edit[] {
  const path = ['steps', step.number - 1];
  const keys = keysFor(answer);
  const written = at(source.data, path);
  const isThere = (key: string): boolean => isObject(written) && Object.hasOwn(written, key);
  const removed = answerKeys.filter((key) => isThere(key) && !Object.hasOwn(keys, key));
  return [
    ...removed.map((key): Edit => ({ do: 'remove', inside: path, key })),
    ...Object.entries(keys).map(([key, value]): Edit => ({ do: 'set', path: [...path, key], value })),
  ];
}

/** The keys by which a step says its answer. */
function keysFor(answer: Answer): JsonObject {
  switch (answer.says) {
    case 'value':
      return { value: answer.value ?? optionValue(answer.text), answer: 'yes' };
    case 'cel':
    case 'use':
    case 'where':
      return { [answer.says]: answer.text, answer: 'yes' };
    case 'written':
      return { written: answer.text.split(/[\s,]+/u), answer: 'yes' };
    case 'yes':
    case 'no':
      return { answer: answer.says };
  }
}

/** The migration drafted anew without one guess; what else was answered stays. */
async function withoutGuess(
  call: Call,
  workspace: Workspace,
  file: MigrationFile,
  refused: MigrationStep,
): Promise<string> {
  const { migration } = file;
  const [from, to] = [modelObeyed(migration.from, workspace), modelWith(migration.to, workspace)];
  if (!from || !to)
    throw refuse('model-changed', `the model changed since ${file.file} was drafted`, {
      mend: 'Draft again, which keeps the answers that still hold: lumbrik migration draft',
      where: { file: file.file },
    });

  const { kind, address, data } = refused;
  const apart = [...migration.apart, kind.guess?.(data) ?? address];

  return (
    await draftedAnew(call, workspace, {
      file,
      sides: [from, to],
      renames: { ...statedIn(migration.steps, refused), notRenamed: apart },
    })
  ).text;
}

/** What the steps of a file say of renames and moves, but for one and for what comes with it: that much is settled. */
function statedIn(steps: readonly MigrationStep[], refused: MigrationStep): Renames {
  const isRefused = ({ kind, address, data }: MigrationStep): boolean =>
    kind === refused.kind && keyOfField(address) === keyOfField(refused.address) && data.to === refused.data.to;
  return saidIn(steps.filter((step) => !isRefused(step)));
}
