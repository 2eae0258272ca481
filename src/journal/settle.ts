import path from 'node:path';
import { count } from '../core/plain/words.ts';
import { besideOf, isLeftover, refuseLinksTo, removeFile } from '../workspace/files.ts';
import { whyNoKey } from '../workspace/localKey.ts';
import { lockName, withLock } from '../workspace/lock.ts';
import { ownFolder, ownNames, removeOwnLeftovers } from '../workspace/ownFolder.ts';
import { refuse, Trouble } from '../workspace/trouble.ts';
import { finishChange, isChangePending } from './change.ts';
import { type Run, readRuns, setDamagedAside, standsAt, withState } from './runs.ts';
import { hasUnbegun, removeUnbegun } from './staging.ts';

/**
 * Brings a workspace into order after a stop: carries out a small change that was begun, takes away what was never
 * begun, and moves journals out of the way that cannot be read. The caller holds the lock.
 * @throws {Trouble} with exit code 3 where something could not be read: it is stated once, and then gone on without.
 */
export function settle(root: string): void {
  removeUnbegun(root);
  removeOwnLeftovers(root, [ownFolder, rehearsalsFolder]);
  finishChange(root);
  const { damaged, sound } = readRuns(root);
  forgetUntouched(root, sound);
  if (damaged.length === 0) return;

  const places = setDamagedAside(root, damaged);
  throw refuse(
    'damaged-journal',
    `${count(damaged.length, 'journal of a run', 'journals of runs')} cannot be read, so ${damaged.length === 1 ? 'that run' : 'those runs'} cannot be finished or taken back`,
    {
      mend: 'Nothing is lost: the originals are in there, each named for its hash (SHA-256). Bring the folder back from a backup, or go on without: the next command does.',
      also: places.map((place) => `it is now ${place}`),
    },
  );
}

/** The same for a command that only reads: it takes the lock where there is something to do, and waits for nobody. */
export async function settleForReading(root: string): Promise<void> {
  const isUnsettled = isChangePending(root) || readRuns(root).damaged.length > 0;
  if (!isUnsettled && !hasRemains(root)) return;
  try {
    await withLock(root, () => settle(root));
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    // Another command is writing at this moment, and its leftovers are its own business.
    if (error.code === 'locked') return;
    // Remains do no harm where they cannot be taken away, on a disk that cannot be written to.
    if (isUnsettled || error.code !== 'file-system') throw error;
  }
}

/** Whether a stop left anything that was on its way to its place. */
function hasRemains(root: string): boolean {
  const names = ownNames(root, ownFolder);
  return (
    names.some((name) => name === lockName || name.startsWith(`${lockName}-`) || isLeftover(name)) ||
    hasUnbegun(root) ||
    ownNames(root, rehearsalsFolder).some(isLeftover)
  );
}

const rehearsalsFolder = `${ownFolder}/rehearsals`;

/** The run that a stop interrupted, if there is one: some of its files are changed, or all are and nobody wrote that down. */
export const interruptedRun = (root: string): Run | undefined =>
  readRuns(root).sound.find((run) => isUnfinished(run) && !isUntouched(root, run));

const isUnfinished = ({ state }: Run): boolean => state === 'running' || state === 'undoing';

/** Whether every file is as it was before a run: it was stopped before it changed one, or after it was undone. */
const isUntouched = (root: string, { plan }: Run): boolean => standsAt(root, plan.files) === 'before';

/** Writes down that runs which changed nothing are none, and removes files that were on their way. */
function forgetUntouched(root: string, runs: readonly Run[]): void {
  for (const run of runs.filter((run) => isUnfinished(run) && isUntouched(root, run))) {
    if (run.isOurs) for (const { after } of run.plan.files) if (after) removeOnTheWay(root, after.path);
    withState(root, run, 'undone');
  }
}

/** Removes what a stop left of a file on its way to its place, and folders that were made for it. */
function removeOnTheWay(root: string, file: string): void {
  refuseLinksTo(root, file);
  removeFile(besideOf(path.join(root, file)), path.join(root, 'content'));
}

/** Refuses to go on beside a run that a stop interrupted, and says how to finish it or take it back. */
export function refuseInterrupted(root: string): void {
  const run = interruptedRun(root);
  if (!run) return;

  const isUndo = run.state === 'undoing' || run.plan.undoes !== undefined;
  throw refuse(
    'interrupted-run',
    `${run.plan.file} was stopped while it was being ${isUndo ? 'taken back' : 'run'}: some entries are changed and some are not`,
    {
      mend: isUndo
        ? 'Go on taking it back: lumbrik migration undo'
        : `Finish it: lumbrik migration run ${run.plan.migration}. Or take it back: lumbrik migration undo`,
    },
  );
}

/** Refuses to act on a journal that came along with the folder, until a person says so. */
export function refuseForeignRun({ isOurs, plan, folder }: Run, isTrusted: boolean, command: string): void {
  if (isOurs || isTrusted) return;

  const reason = whyNoKey();
  const message =
    reason === undefined
      ? 'was not made here: it came along with this folder'
      : `cannot be told from one that came along with this folder: no key can be kept outside it, since ${reason}`;
  throw refuse('made-elsewhere', `the journal of ${plan.file} ${message}`, {
    mend: `It says which bytes to write into content/. If you trust where it comes from: ${command} --from-elsewhere`,
    where: { file: folder },
  });
}
