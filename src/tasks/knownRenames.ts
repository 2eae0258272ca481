import { keyOfField } from '../core/definition/fieldName.ts';
import type { ModelDoc } from '../core/definition/model.ts';
import type { MigrationStep } from '../core/migration/read.ts';
import { hashModel } from '../core/revision/canonical.ts';
import { Trouble } from '../workspace/trouble.ts';
import { saidIn } from './migration/renamesInSteps.ts';
import { type MigrationFile, readMigrations } from './migrationFiles.ts';
import type { Renames } from './renameOptions.ts';
import { readStated, withStated } from './statedChanges.ts';

interface RenameSources {
  /** The options of the call. */
  readonly stated?: Renames;
  /** The migration between the models; looked for among the files where none is given. */
  readonly migration?: MigrationFile['migration'] | undefined;
}

/**
 * The renames and moves between two models: as the options of a call say, as the migration between them has settled, and
 * as `lumbrik rename` and `lumbrik move` wrote down for the next draft. What cannot be between the two is left out.
 */
export function knownRenames(
  root: string,
  sides: readonly [ModelDoc, ModelDoc],
  { stated = {}, migration }: RenameSources = {},
): Renames {
  const drafted = migration ? undefined : migrationBetween(root, sides)?.migration;
  const between = migration ?? drafted ?? migrationFrom(root, sides)?.migration;
  const renames = drafted ? withRefused(stated, drafted) : stated;
  const settled = between ? withStated(renames, settledIn(between, renames), sides) : renames;
  return withStated(settled, readStated(root), sides);
}

/** The options of a call, with what was refused as a rename or a move when a migration was drafted, unless they say it now. */
function withRefused(stated: Renames, { apart = [] }: MigrationFile['migration']): Renames {
  const { renamed = [], moved = [], notRenamed = [] } = stated;
  const saidNow = new Set([...renamed, ...moved].map((rename) => rename.split('=')[0]));
  return { ...stated, notRenamed: [...notRenamed, ...apart.filter((address) => !saidNow.has(address))] };
}

/** The migration that leads from one model to another; nothing where none does, or where a file of migrations is broken. */
export function migrationBetween(
  root: string,
  [before, after]: readonly [ModelDoc, ModelDoc],
): MigrationFile | undefined {
  const to = hashModel(after);
  return migrationsFrom(root, before).find(({ migration }) => migration.to === to);
}

/** The last migration that starts at a model: the newer one was changed again behind it. */
const migrationFrom = (root: string, [before]: readonly [ModelDoc, ModelDoc]): MigrationFile | undefined =>
  migrationsFrom(root, before).at(-1);

function migrationsFrom(root: string, before: ModelDoc): readonly MigrationFile[] {
  const from = hashModel(before);
  try {
    return readMigrations(root).filter(({ migration }) => migration.from === from);
  } catch (error) {
    if (error instanceof Trouble) return [];
    throw error;
  }
}

/** The renames and moves that a migration says without a question. What is refused of a field is refused of its subtypes. */
function settledIn({ steps }: MigrationFile['migration'], { notRenamed = [] }: Renames) {
  const refused = steps.filter(({ address }) => notRenamed.includes(address));
  const isRefused = ({ kind, address, data }: MigrationStep): boolean =>
    refused.some(
      (step) => step.kind === kind && keyOfField(step.address) === keyOfField(address) && step.data.to === data.to,
    );

  return saidIn(steps.filter((step) => step.open === undefined && !isRefused(step)));
}
