import { z } from 'zod';
import { type Lost, takeBack } from '../../journal/carryOut.ts';
import { listRuns, type Run, seenFiles, standsAt } from '../../journal/runs.ts';
import { interruptedRun, refuseForeignRun } from '../../journal/settle.ts';
import { contentFiles } from '../../stores/open.ts';
import { readContentSettings } from '../../workspace/open.ts';
import { refuse, Trouble } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { settledAlone } from '../enter.ts';
import { isMeant } from '../migrationFiles.ts';
import { head, resultVersion } from '../result.ts';
import { countFiles } from './run.ts';

export const UndoResult = z.strictObject({
  ...head('migration undo'),
  /** Whether every file is as it was before the run. */
  ok: z.boolean(),
  file: z.string(),
  number: z.int(),
  /** How many files are again what they were before the run. */
  files: z.int(),
  /** Files that stay as the run left them, since what they were before is not in the journal any more. */
  left: z.array(z.strictObject({ file: z.string(), entry: z.string().optional(), why: z.string() })),
  /** Files that came after the run: they are still there, written for the newer model. */
  added: z.array(z.string()),
});
export type UndoResult = z.output<typeof UndoResult>;

export interface UndoCall {
  /** The migration that a person expects to be the last, by number or file name. */
  readonly meant?: string | undefined;
  /** Take back what can be, where some of the journal is damaged. */
  readonly partly?: boolean;
  /** Act on a journal that was not made here. */
  readonly fromElsewhere?: boolean;
}

/**
 * Takes back the last run, or one that was stopped halfway: every file is again what it was, byte for byte.
 * @throws {Trouble} where none was run, or another one after it.
 */
export async function undo(
  call: Call,
  { meant, partly = false, fromElsewhere = false }: UndoCall = {},
): Promise<UndoResult> {
  return settledAlone(call, (root) => {
    const run = lastRun(root, meant);
    refuseForeignRun(run, fromElsewhere, 'lumbrik migration undo');
    const added = filesAddedSince(root, run);
    const left = takeBack(root, run, partly);
    return {
      lumbrik: resultVersion,
      command: 'migration undo',
      ok: left.length === 0,
      file: run.plan.file,
      number: run.plan.migration,
      files: countFiles(run.plan) - left.length,
      left: left.map((one: Lost) => ({ ...one })),
      added: [...added],
    };
  });
}

/** The newest run that stands, by the bytes of its files: one that version control took back is not taken back again. */
function lastRun(root: string, meant: string | undefined): Run {
  const interrupted = interruptedRun(root);
  const done = listRuns(root).filter(({ state }) => state === 'done');
  const run = interrupted ?? done.findLast(({ plan }) => standsAt(root, plan.files) !== 'before');
  if (run && meant !== undefined && !isMeant(run.plan.file, meant))
    throw refuse('not-the-last', `the last that was run is ${run.plan.file}, not ${meant}`, {
      mend: 'Runs are taken back from the last on: lumbrik migration undo',
    });
  if (run) return run;
  const before = done.at(-1);
  throw new Trouble(
    'nothing-to-undo',
    before
      ? `the entries are already as they were before ${before.plan.file} ran: something else brought them back`
      : 'there is no run here that could be taken back',
    { mend: 'Look at lumbrik migration list.' },
  );
}

function filesAddedSince(root: string, run: Run): readonly string[] {
  const seen = seenFiles(root, run);
  if (!seen) return [];
  const known = new Set([...seen, ...run.plan.files.flatMap(({ before, after }) => [before?.path, after?.path])]);
  return contentFiles({ root, content: readContentSettings(root) }).filter((file) => !known.has(file));
}
