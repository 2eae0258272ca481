import { z } from 'zod';
import { interruptedRun, listRuns, type Run, takeBack } from '../../workspace/journal.ts';
import { withLock } from '../../workspace/lock.ts';
import { findWorkspace } from '../../workspace/open.ts';
import { Trouble } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
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

/** Takes back the last run, or one that was stopped halfway: every file is again what it was, byte for byte. */
export async function undo(call: Call): Promise<UndoResult> {
  const root = findWorkspace(call.workspace);
  return withLock(root, () => {
    const { plan } = takeBack(root, lastRun(root));
    return {
      lumbrik: resultVersion,
      command: 'migration undo',
      file: plan.file,
      number: plan.migration,
      files: countFiles(plan),
    };
  });
}

function lastRun(root: string): Run {
  const run = interruptedRun(root) ?? listRuns(root).findLast(({ state }) => state === 'done');
  if (run) return run;
  throw new Trouble('nothing-to-undo', 'no migration was run here, so there is nothing to take back', {
    mend: 'Look at lumbrik migration list.',
  });
}
