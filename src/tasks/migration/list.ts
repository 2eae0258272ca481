import { z } from 'zod';
import { hashModel } from '../../core/revision/canonical.ts';
import { revisionOf } from '../../core/revision/chain.ts';
import { listRuns, type Run } from '../../workspace/journal.ts';
import { openWorkspace } from '../../workspace/open.ts';
import { readRevisions } from '../../workspace/revisions.ts';
import { readStanding } from '../../workspace/standing.ts';
import type { Call } from '../call.ts';
import { type MigrationFile, readMigrations, wasRun } from '../migrationFiles.ts';
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

export const MigrationListResult = z.strictObject({ ...head('migration list'), migrations: z.array(Listed) });
export type MigrationListResult = z.output<typeof MigrationListResult>;

/** Lists the migrations of a workspace and how far each has come. */
export function listMigrations(call: Call): MigrationListResult {
  const { root, modelHash } = openWorkspace(call.workspace);
  const revisions = readRevisions(root);
  const newest = revisions.at(-1);
  const standing = readStanding(root) ?? (newest && hashModel(newest.model));
  const runs = listRuns(root);
  const name = (hash: string): string => {
    const revision = revisionOf(hash, revisions);
    return revision
      ? `revision ${revision.revision}`
      : hash === modelHash
        ? 'the working files'
        : `model ${hash.slice(0, 8)}`;
  };
  const migrations = readMigrations(root).map((file) => {
    const { number, about, steps, from, to } = file.migration;
    const run = runs.findLast(({ plan, state }) => plan.migration === number && state !== 'undone');
    return {
      number,
      file: file.file,
      about,
      steps: steps.length,
      state: stateOf(root, file, run, standing),
      openQuestions: steps.filter(({ open }) => open !== undefined).length,
      from: name(from),
      to: name(to),
      ...(run?.state === 'done' ? { runAt: run.plan.date } : {}),
    };
  });
  return { lumbrik: resultVersion, command: 'migration list', migrations };
}

function stateOf(
  root: string,
  file: MigrationFile,
  run: Run | undefined,
  standing: string | undefined,
): z.output<typeof Listed>['state'] {
  const { migration, hash } = file;
  if (run?.state === 'running' || run?.state === 'undoing') return 'stopped';
  if (run?.state === 'done' || wasRun(root, file, standing)) return 'run';
  if (migration.steps.some(({ open }) => open !== undefined)) return 'open';
  if (standing !== undefined && standing !== migration.from) return 'waiting';
  return rehearsedContent(root, hash) === undefined ? 'drafted' : 'rehearsed';
}
