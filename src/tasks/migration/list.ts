import { z } from 'zod';
import { compact } from '../../core/plain/json.ts';
import { revisionOf } from '../../core/revision/chain.ts';
import { listRuns, type Run, standsAt } from '../../journal/runs.ts';
import type { Workspace } from '../../workspace/open.ts';
import { asideNames } from '../../workspace/ownFolder.ts';
import type { Call } from '../call.ts';
import { type MigrationFile, readMigrations, wasRun } from '../migrationFiles.ts';
import { readingRuns } from '../openForCall.ts';
import { head, resultVersion } from '../result.ts';
import { rehearsedContent } from './rehearsals.ts';

const Listed = z.strictObject({
  number: z.int(),
  file: z.string(),
  about: z.string(),
  steps: z.int(),
  /**
   * `open`: questions are left. `drafted`: not rehearsed as it stands. `rehearsed`: may be run. `waiting`: another one
   * comes first. `stopped`: a run was interrupted. `run`: the entries went through it.
   */
  state: z.enum(['open', 'drafted', 'rehearsed', 'waiting', 'stopped', 'run']),
  openQuestions: z.int(),
  from: z.string(),
  to: z.string(),
  /** When it was run, in RFC 3339. */
  runAt: z.string().optional(),
});

/** The result of `lumbrik migration list`. */
export const MigrationListResult = z.strictObject({
  ...head('migration list'),
  migrations: z.array(Listed),
  /** Journals that could not be read and were moved out of the way. */
  aside: z.array(z.string()),
});
export type MigrationListResult = z.output<typeof MigrationListResult>;

/** Lists the migrations of a workspace and how far each has come. */
export async function listMigrations(call: Call): Promise<MigrationListResult> {
  const workspace = await readingRuns(call);
  const migrations = readMigrations(workspace.root).map((file) => listedMigration(workspace, file));
  return { lumbrik: resultVersion, command: 'migration list', migrations, aside: [...asideNames(workspace.root)] };
}

/** A migration with how far it has come, and the models that it leads from and to by their names. */
export function listedMigration({ root, modelHash, records }: Workspace, file: MigrationFile): z.output<typeof Listed> {
  const { revisions, contentRevision: obeyedHash } = records;
  const name = (hash: string): string => {
    const revision = revisionOf(hash, revisions);
    if (revision) return `revision ${revision.revision}`;
    if (hash === modelHash) return 'the working files';
    return `model ${hash.slice(0, 8)}`;
  };

  const { number, about, steps, from, to } = file.migration;
  const runs = listRuns(root).filter((run) => stands(root, run, obeyedHash));
  const run = runs.findLast(({ plan, state }) => plan.migration === number && state !== 'undone');

  return compact({
    number,
    file: file.file,
    about,
    steps: steps.length,
    state: stateOf(root, file, run, obeyedHash),
    openQuestions: steps.filter(({ open }) => open !== undefined).length,
    from: name(from),
    to: name(to),
    runAt: run?.state === 'done' ? run.plan.date : undefined,
  });
}

/**
 * Whether what a run did is still so. One that was undone is not; nor is one that version control took back under the
 * journal: the model that the entries obey tells, or else their bytes.
 */
function stands(root: string, { state, plan }: Run, obeyedHash: string | undefined): boolean {
  if (state !== 'done') return state !== 'undone';
  if (plan.from === plan.to || obeyedHash === plan.from) return standsAt(root, plan.files) !== 'before';
  return true;
}

function stateOf(
  root: string,
  file: MigrationFile,
  run: Run | undefined,
  obeyedHash: string | undefined,
): z.output<typeof Listed>['state'] {
  const { migration, hash } = file;
  if (run?.state === 'running' || run?.state === 'undoing') return 'stopped';
  if (run?.state === 'done' || wasRun(root, file, obeyedHash)) return 'run';
  if (migration.steps.some(({ open }) => open !== undefined)) return 'open';
  if (obeyedHash !== undefined && obeyedHash !== migration.from) return 'waiting';
  if (rehearsedContent(root, hash) === undefined) return 'drafted';
  return 'rehearsed';
}
