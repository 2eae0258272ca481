import { z } from 'zod';
import { ratingOf } from '../core/diff/impact.ts';
import { compact } from '../core/plain/json.ts';
import { nextVersion } from '../core/revision/version.ts';
import { openStore } from '../stores/open.ts';
import { readAssets } from '../workspace/assets.ts';
import type { Call } from './call.ts';
import { changesBetween } from './changes.ts';
import { compareAndCount } from './compareModels.ts';
import { knownRenames, migrationBetween } from './knownRenames.ts';
import { mayObey } from './modelOfEntries.ts';
import { findModel } from './models.ts';
import { reading } from './openForCall.ts';
import { type Renames, readRenameOptions } from './renameOptions.ts';
import { Change, head, Rating, resultVersion } from './result.ts';

const Side = z.strictObject({ name: z.string(), revision: z.int().optional(), hash: z.string() });

/** The result of `lumbrik diff`. */
export const DiffResult = z.strictObject({
  ...head('diff'),
  from: Side,
  to: Side,
  /** Whether the changes were counted on the entries: only where these obey the model on the left. */
  counted: z.boolean(),
  /** The worst of all changes for each party. */
  ...Rating,
  /** The version number that follows, where the model on the left is a recorded revision. */
  version: z.string().optional(),
  changes: z.array(Change),
  /** The migration that leads from the one to the other, where there is one. */
  migration: z.strictObject({ file: z.string(), number: z.int() }).optional(),
});
export type DiffResult = z.output<typeof DiffResult>;

/** Compares two models by meaning and counts each change on the entries that exist. */
export async function diff(call: Call, from = 'sealed', to = 'working', renames: Renames = {}): Promise<DiffResult> {
  const workspace = await reading(call);
  const [namedModel, right] = [findModel(workspace, from), findModel(workspace, to)];
  const counted = await mayObey(workspace, namedModel);
  const on = counted ? { store: openStore(workspace), assets: await readAssets(workspace.root) } : undefined;
  const { comparison, impactOf } = await compareAndCount(namedModel, right, on, {
    stated: readRenameOptions(
      knownRenames(workspace.root, [namedModel.definition, right.definition], { stated: renames }),
    ),
    watch: call.watch,
  });
  const migration = migrationBetween(workspace.root, [namedModel.definition, right.definition]);
  const rating = ratingOf(comparison);
  const changes = changesBetween(comparison, impactOf);
  const recorded = workspace.records.revisions.find(({ revision }) => revision === namedModel.revision);
  const side = ({ name, revision, hash }: typeof namedModel) => compact({ name, revision, hash });

  return {
    lumbrik: resultVersion,
    command: 'diff',
    from: side(namedModel),
    to: side(right),
    counted,
    ...rating,
    ...compact({ version: recorded && changes.length > 0 ? nextVersion(recorded.version, rating) : undefined }),
    changes,
    ...compact({ migration: migration && { file: migration.file, number: migration.migration.number } }),
  };
}
