import { z } from 'zod';
import { interruptedRun, listRuns, type Run, takeBack } from '../../workspace/journal.ts';
import { withLock } from '../../workspace/lock.ts';
import { findWorkspace } from '../../workspace/open.ts';
import { refuse, Trouble } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { isMeant } from '../migrationFiles.ts';
import { head, resultVersion } from '../result.ts';
import { countFiles } from './run.ts';

export const UndoResult = z.strictObject({
  ...head('migration undo'),
  file: z.string(),
  number: z.int(),
  /** How many files are again what they were before the run. */
  files: z.int(),
});
export type UndoResult = z.output<typeof UndoResult>;

/**
 * Takes back the last run, or one that was stopped halfway: every file is again what it was, byte for byte.
 * @param meant the migration that a person expects to be the last, by number or file name.
 * @throws {Trouble} where none was run, or another one after it.
 */
export async function undo(call: Call, meant?: string): Promise<UndoResult> {
  const root = findWorkspace(call.workspace);
  return withLock(root, () => {
    const { plan } = takeBack(root, lastRun(root, meant));
    return {
      lumbrik: resultVersion,
      command: 'migration undo',
      file: plan.file,
      number: plan.migration,
      files: countFiles(plan),
    };
  });
}

function lastRun(root: string, meant: string | undefined): Run {
  const run = interruptedRun(root) ?? listRuns(root).findLast(({ state }) => state === 'done');
  if (run && meant !== undefined && !isMeant(run.plan.file, meant))
    throw refuse('not-the-last', `the last that was run is ${run.plan.file}, not ${meant}`, {
      mend: 'Runs are taken back from the last on: lumbrik migration undo',
    });
  if (run) return run;
  throw new Trouble('nothing-to-undo', 'there is no run here that could be taken back', {
    mend: 'Look at lumbrik migration list.',
  });
}
