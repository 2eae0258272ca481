import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { compact } from '../../core/plain/json.ts';
import { count } from '../../core/plain/words.ts';
import { finishRun, resumeRun } from '../../journal/carryOut.ts';
import type { FileChange, RunPlan } from '../../journal/plan.ts';
import type { Run } from '../../journal/runs.ts';
import { interruptedRun, refuseForeignRun, refuseInterrupted } from '../../journal/settle.ts';
import { Staging } from '../../journal/staging.ts';
import { digestPass } from '../../passes/digest.ts';
import { walk } from '../../passes/walk.ts';
import { openStore } from '../../stores/open.ts';
import type { EntryStore, WholeFile } from '../../stores/store.ts';
import { timestamp } from '../../workspace/clock.ts';
import { contentRevisionFile, contentRevisionText } from '../../workspace/contentRevision.ts';
import { hashBytes } from '../../workspace/files.ts';
import { whyNoKey } from '../../workspace/localKey.ts';
import { openSoundWorkspace, type Workspace } from '../../workspace/open.ts';
import { refuse } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { findMigration, isMeant, type MigrationFile } from '../migrationFiles.ts';
import { settledAlone } from '../openForCall.ts';
import { head, resultVersion } from '../result.ts';
import { prepared, stagingPass } from './migrateStored.ts';
import { type Proved, prove } from './prove.ts';
import { rehearsedContent } from './rehearsals.ts';
import { namesOf, refuseOtherStanding } from './rehearse.ts';

/** The result of `lumbrik migration run`. */
export const RunResult = z.strictObject({
  ...head('migration run'),
  file: z.string(),
  number: z.int(),
  from: z.string(),
  to: z.string(),
  /** How many files were written, moved or removed. */
  files: z.int(),
  /** Whether this finished a run that was stopped before. */
  resumed: z.boolean(),
  /** Why its journal cannot be recognised later as made here; absent where it can. */
  unmarked: z.string().optional(),
});
export type RunResult = z.output<typeof RunResult>;

/**
 * Runs a rehearsed migration on the entries: all of it or nothing, and back again by {@link undo}. Where a run was
 * stopped, that one is finished.
 * @param fromElsewhere whether a run may be finished whose journal was not made here.
 */
export async function run(call: Call, typed: string | undefined, fromElsewhere = false): Promise<RunResult> {
  return settledAlone(call, async (root) => {
    const stopped = interruptedRun(root);
    if (
      stopped?.state === 'running' &&
      stopped.plan.undoes === undefined &&
      (typed === undefined || isMeant(stopped.plan.file, typed))
    ) {
      refuseForeignRun(stopped, fromElsewhere, `lumbrik migration run ${stopped.plan.migration}`);
      resumeRun(root, stopped);
      const names = {
        file: stopped.plan.file,
        number: stopped.plan.migration,
        from: stopped.plan.from.slice(0, 12),
        to: stopped.plan.to.slice(0, 12),
      };

      return {
        lumbrik: resultVersion,
        command: 'migration run',
        ...names,
        files: countFiles(stopped.plan),
        resumed: true,
        ...compact({ unmarked: whyNoKey() }),
      };
    }

    refuseInterrupted(root);
    const workspace = openSoundWorkspace(root);
    const file = findMigration(root, typed);
    await refuseOtherStanding(workspace, file);
    refuseOpenQuestions(file);
    const proved = await prove(workspace, file);
    const begun = await beginRun(call, workspace, proved, file);
    finishRun(root, begun);

    return {
      lumbrik: resultVersion,
      command: 'migration run',
      ...namesOf(file, proved),
      files: countFiles(begun.plan),
      resumed: false,
      ...compact({ unmarked: whyNoKey() }),
    };
  });
}

/** The number of entry files in a plan. */
export const countFiles = ({ files }: RunPlan): number =>
  files.filter(({ before, after }) => (after ?? before)?.path !== contentRevisionFile).length;

const planOf = ({ file, migration }: MigrationFile): Omit<RunPlan, 'files'> => ({
  migration: migration.number,
  file,
  from: migration.from,
  to: migration.to,
  date: timestamp(),
});

/** @throws {Trouble} where a question of a migration is open: only a person can answer it. */
export function refuseOpenQuestions({ file, migration, source }: MigrationFile): void {
  const open = migration.steps.filter((step) => step.open !== undefined);
  const [first] = open;
  if (!first) return;
  throw refuse(
    'open-questions',
    `${file} has ${count(open.length, 'open question')}; the first, at step ${first.number}: ${first.open}`,
    {
      mend: 'Answer them: lumbrik migration answer; then rehearse again: lumbrik migration rehearse',
      where: { file, ...source.locateKey(['steps', first.number - 1, 'open']) },
    },
  );
}

/** Writes down every file that the run changes, and begins it. Refuses where entries are not those that were rehearsed. */
async function beginRun(call: Call, workspace: Workspace, proved: Proved, file: MigrationFile): Promise<Run> {
  const { root } = workspace;
  const rehearsed = rehearsedContent(root, file.hash);
  const again = `Rehearse it as it is now: lumbrik migration rehearse ${file.migration.number}`;
  if (rehearsed === undefined)
    throw refuse('not-rehearsed', `${file.file} has not been rehearsed as it stands`, {
      mend: again,
      where: { file: file.file },
    });

  const staging = new Staging(root, file.migration.number);
  try {
    const store = openStore(workspace);
    refuseStoreWithoutWayBack(store);
    const transaction = store.begin(staging);
    const migrating = await prepared(store, proved.plan, file, call);
    const passes = [stagingPass(staging, transaction, migrating), digestPass()] as const;
    const [, digest] = await walk(store, passes, call);
    if (digest !== rehearsed)
      throw refuse('changed-since-rehearsal', `entries changed since ${file.file} was rehearsed`, {
        mend: again,
        where: { file: file.file },
      });

    await transaction.prepare();
    refuseTaken(root, staging.files);
    staging.add(contentRevisionChange(root, proved.to.hash));

    return staging.begin(planOf(file));
  } catch (error) {
    staging.discard();
    throw error;
  }
}

/** @throws {Trouble} where a store cannot restore its content: a run has to be undone byte for byte. */
function refuseStoreWithoutWayBack({ can }: EntryStore): void {
  if (can.restoreBytes) return;
  throw refuse('no-way-back', 'a place where entries are kept cannot restore its content after a run', {
    mend: 'Migrate a copy of its entries in a folder or in files of lines.',
  });
}

/** A file that would be moved onto another one, or two onto each other. */
function refuseTaken(root: string, changes: readonly FileChange[]): void {
  const comers = new Map<string, FileChange>();
  for (const change of changes) {
    const file = change.after?.path ?? '';
    const other = change.after && comers.get(file);
    if (other)
      throw refuse(
        'file-exists',
        `${[other, change].map(({ before, entry }) => before?.path ?? `${entry}, which is new,`).join(' and ')} would both become ${file}`,
        { mend: 'Give one of the two another identifier, then rehearse again.', where: { file } },
      );
    comers.set(file, change);
  }

  const reused = changes.find(
    ({ before, after }) => after && before?.path !== after.path && fs.existsSync(path.join(root, after.path)),
  );
  if (reused?.after)
    throw refuse(
      'file-exists',
      `${reused.before?.path} would move to ${reused.after.path}, and a file is there already`,
      { mend: 'Rename one of the two, then rehearse again.', where: { file: reused.after.path } },
    );
}

/** The file that says which model the entries obey, as it is to be. */
export function contentRevisionChange(root: string, modelHash: string): WholeFile {
  const after = { path: contentRevisionFile, bytes: Buffer.from(contentRevisionText(modelHash), 'utf8') };
  const full = path.join(root, contentRevisionFile);
  if (!fs.existsSync(full)) return { after };
  const bytes = fs.readFileSync(full);
  return { before: { path: contentRevisionFile, hash: hashBytes(bytes), bytes }, after };
}
