import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { count } from '../../core/plain/words.ts';
import { type LostFile, resumeRun, takeBack } from '../../journal/carryOut.ts';
import { mendsNumber } from '../../journal/plan.ts';
import { listRuns, type Run, seenFiles, standsAt } from '../../journal/runs.ts';
import { interruptedRun, refuseForeignRun } from '../../journal/settle.ts';
import { contentFiles } from '../../stores/open.ts';
import { contentRevisionFile } from '../../workspace/contentRevision.ts';
import { readContentSettings } from '../../workspace/settings.ts';
import { refuse, Trouble } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { isMeant } from '../migrationFiles.ts';
import { settledAlone } from '../openForCall.ts';
import { head, resultVersion } from '../result.ts';
import { modelBack } from './restoreModel.ts';
import { countFiles } from './run.ts';
import { editedSince, type Undone, undoEdited } from './undoEdited.ts';

/** The result of `lumbrik migration undo`. */
export const UndoResult = z.strictObject({
  ...head('migration undo'),
  /** Whether every file is as it was before the run. */
  ok: z.boolean(),
  file: z.string(),
  /** The number of the migration; 0 for what `check --fix`, or a rename before the first revision, wrote. */
  number: z.int(),
  /** How many files are again what they were before the run. */
  files: z.int(),
  /** Files that stay as the run left them, since what they were before is not in the journal any more. */
  left: z.array(z.strictObject({ file: z.string(), entry: z.string().optional(), why: z.string() })),
  /** Entries that were edited since: what of the edits is kept. */
  kept: z.array(
    z.strictObject({
      entry: z.string(),
      file: z.string(),
      fields: z.array(z.string()),
      state: z.enum(['edited', 'deleted', 'new']),
    }),
  ),
  /** Edits since that could not be kept. */
  lostEdits: z.array(z.strictObject({ entry: z.string(), file: z.string(), why: z.string() })),
  /** Files that came after the run: they are still there, written for the newer model. */
  added: z.array(z.string()),
  /** The commit from which the model's files were undone as well, where that was requested. */
  modelFrom: z.string().optional(),
});
export type UndoResult = z.output<typeof UndoResult>;

/** The options of an undo. */
export interface UndoCall {
  /** The migration that a person expects to be the last, by number or file name. */
  readonly meant?: string | undefined;
  /** Take back what can be, where some of the journal is damaged. */
  readonly partly?: boolean;
  /** Act on a journal that was not made here. */
  readonly fromElsewhere?: boolean;
  /** Take the model's files back as well, as git has them. */
  readonly model?: boolean;
}

/**
 * Takes back the last run, or one that was stopped halfway: every file is again what it was, byte for byte.
 * @throws {Trouble} where none was run, or another one after it.
 */
export async function undo(
  call: Call,
  { meant: typed, partly = false, fromElsewhere = false, model = false }: UndoCall = {},
): Promise<UndoResult> {
  return settledAlone(call, async (root) => {
    const run = lastRun(root, typed);
    refuseMerge(run);
    refuseForeignRun(run, fromElsewhere, 'lumbrik migration undo');
    const takeModelBack =
      model && run.plan.migration !== mendsNumber
        ? modelBack(root, run.plan.undoes === undefined ? run.plan.from : run.plan.to)
        : undefined;
    const added = filesAddedSince(root, run);
    const edited = run.state === 'done' ? editedSince(root, run) : [];
    refuseNewerModel(root, run, edited.length);
    const done = await beside(root, run, { partly, edited: edited.length, added });
    const { kept: keptEntries, lost } = done ?? { kept: [], lost: [] };
    const notRestored = done ? [] : takenBack(root, run, partly);
    const back = takeModelBack?.();
    const carried = new Set(
      keptEntries.filter(({ state }) => state === 'new').map(({ was: formerName }) => formerName),
    );

    return {
      lumbrik: resultVersion,
      command: 'migration undo',
      ok: notRestored.length === 0,
      file: run.plan.file,
      number: run.plan.migration,
      files: countFiles(run.plan) - notRestored.length - edited.length,
      kept: keptEntries.map(({ fields, was: _, ...rest }) => ({ ...rest, fields: [...fields] })),
      lostEdits: lost.map((lostEdit) => ({ ...lostEdit })),
      left: notRestored.map((lostFile: LostFile) => ({ ...lostFile })),
      added: added.filter((file) => !carried.has(file)),
      ...(back ? { modelFrom: back.commit } : {}),
    };
  });
}

/** What a run is undone beside: edits since, and entries that came since. */
interface Beside {
  readonly partly: boolean;
  readonly edited: number;
  readonly added: readonly string[];
}

/** Takes back a run beside edits and entries that came since; nothing is done where there are none, or none that can be. */
async function beside(root: string, run: Run, { partly, edited, added }: Beside): Promise<Undone | undefined> {
  if (run.state !== 'done' || edited + added.length === 0) return undefined;
  try {
    return await undoEdited(root, run, { partly, added });
  } catch (error) {
    // Entries that came since stay as they are where nothing tells how they were before.
    if (
      edited === 0 &&
      error instanceof Trouble &&
      ['no-way-back', 'no-migration', 'model-mistakes', 'damaged-originals'].includes(error.code)
    )
      return undefined;
    throw error;
  }
}

/** Takes back a run after which nothing was edited; of one that took another back and was stopped, finishes that. */
function takenBack(root: string, run: Run, partly: boolean): readonly LostFile[] {
  if (run.plan.undoes === undefined) return takeBack(root, run, partly);
  resumeRun(root, run);
  return [];
}

/**
 * Refuses to take back what brought merged entries forward: before it they may hold version control's conflict marks, and
 * the history is in another order now. @throws {Trouble}
 */
function refuseMerge({ plan, state }: Run): void {
  if (plan.merges !== true || state !== 'done') return;
  throw refuse('merged', 'the last that was run put two branches into one order (lumbrik history --merge)', {
    mend: 'What the entries were before it may hold conflict marks of version control. Take the merge back with git, or change the model and draft the way back: lumbrik migration draft',
  });
}

/**
 * Refuses to take back a change of the model and its entries once a revision was recorded, or beside edits since: both are of
 * the newer model. @throws {Trouble}
 */
function refuseNewerModel(root: string, { plan }: Run, edited: number): void {
  const isOfModel = plan.files.some(({ before, after }) => !(before ?? after)?.path.startsWith('content/'));
  const isRecorded = fs.existsSync(path.join(root, contentRevisionFile));
  if (!isOfModel || (edited === 0 && !isRecorded)) return;

  const message = isRecorded
    ? `a revision was recorded after lumbrik ${plan.file}`
    : `${count(edited, 'file')} of lumbrik ${plan.file} ${edited === 1 ? 'was' : 'were'} edited since`;
  throw refuse('edited-since', message, {
    mend: 'Give it its old name or place by the same command instead. Nothing was changed.',
  });
}

/** The newest run that stands, by the bytes of its files: one that version control took back is not taken back again. */
function lastRun(root: string, typed: string | undefined): Run {
  const interrupted = interruptedRun(root);
  const done = listRuns(root).filter(({ state }) => state === 'done');
  const run = interrupted ?? done.findLast(({ plan }) => standsAt(root, plan.files) !== 'before');
  if (run && typed !== undefined && !isMeant(run.plan.file, typed))
    throw refuse('not-the-last', `the last that was run is ${run.plan.file}, not ${typed}`, {
      mend: 'Undo starts with the last run: lumbrik migration undo',
    });
  if (run) return run;

  const before = done.at(-1);
  throw new Trouble(
    'nothing-to-undo',
    before
      ? `the entries are already as they were before ${before.plan.file} ran: something else brought them back`
      : 'there is no run to undo',
    { mend: 'Look at lumbrik migration list.' },
  );
}

function filesAddedSince(root: string, run: Run): readonly string[] {
  const listed = seenFiles(root, run);
  if (!listed) return [];

  const knownFiles = new Set([
    ...listed,
    ...run.plan.files.flatMap(({ before, after }) => [before?.path, after?.path]),
  ]);

  return contentFiles({ root, content: readContentSettings(root) }).filter((file) => !knownFiles.has(file));
}
