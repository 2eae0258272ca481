import { z } from 'zod';
import { compact } from '../../core/plain/json.ts';
import type { Call } from '../call.ts';
import { findMigration } from '../migrationFiles.ts';
import { readingRuns } from '../openForCall.ts';
import { head, resultVersion } from '../result.ts';
import { listedMigration } from './list.ts';

/** The result of `lumbrik migration show`. */
export const MigrationShowResult = z.strictObject({
  ...head('migration show'),
  number: z.int(),
  file: z.string(),
  about: z.string(),
  from: z.string(),
  to: z.string(),
  /** How far it has come, as `migration list` says it. */
  state: z.string(),
  steps: z.array(
    z.strictObject({
      step: z.int(),
      verb: z.string(),
      address: z.string(),
      says: z.string(),
      open: z.string().optional(),
    }),
  ),
});
export type MigrationShowResult = z.output<typeof MigrationShowResult>;

/** Reads a migration aloud: each step in a sentence. */
export async function showMigration(call: Call, typed: string | undefined): Promise<MigrationShowResult> {
  const workspace = await readingRuns(call);
  const file = findMigration(workspace.root, typed);
  const { number, about, from, to, state } = listedMigration(workspace, file);

  return {
    lumbrik: resultVersion,
    command: 'migration show',
    number,
    file: file.file,
    about,
    from,
    to,
    state,
    steps: file.migration.steps.map(({ number: step, kind, address, data, open }) =>
      compact({
        step,
        verb: kind.verb,
        address,
        says: kind.say(data),
        open,
      }),
    ),
  };
}
