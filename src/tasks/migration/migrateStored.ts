import { newEntries } from '../../core/migration/entriesAfter.ts';
import { EntryMisfit, type Migrated, migrateEntry, type Plan } from '../../core/migration/plan.ts';
import type { Look } from '../../core/rules/lookUp.ts';
import type { Staging } from '../../journal/staging.ts';
import { showAll } from '../../passes/gather.ts';
import { readLookUps } from '../../passes/lookUps.ts';
import { eachEntry, type Pass } from '../../passes/pass.ts';
import type { WalkOptions } from '../../passes/walk.ts';
import type { EntryStore, Stored, Transaction } from '../../stores/store.ts';
import { type MigrationFile, misfitTrouble } from '../migrationFiles.ts';

/** What takes entries through a migration. */
export interface Migrating {
  readonly plan: Plan;
  /** Looks into other entries, where the migration does. */
  readonly look: Look | undefined;
  readonly file: MigrationFile;
}

/** What takes the entries of a store through a plan, once it knows what it has to know of all of them. @throws {Trouble} */
export async function prepared(
  store: EntryStore,
  plan: Plan,
  file: MigrationFile,
  options: WalkOptions,
): Promise<Migrating> {
  const look = await readLookUps(store, plan.before, plan.looksUp);
  try {
    await showAll(store, plan, look, options);
  } catch (error) {
    throw asTrouble(error, file);
  }

  return { plan, look, file };
}

/** Takes a stored entry through a plan. @throws {Trouble} where a step cannot be treated as it. */
export function migrateStored(stored: Stored, { plan, look, file }: Migrating): Migrated {
  try {
    return migrateEntry(plan, stored.entry, look);
  } catch (error) {
    throw asTrouble(error, file);
  }
}

/** Hands the outcome for each entry to the journal. */
export function stagingPass(staging: Staging, transaction: Transaction, migrating: Migrating): Pass<undefined> {
  return eachEntry({
    see: (stored) => {
      const migrated = migrateStored(stored, migrating);
      const { operations } = migrated.draft;
      const added = newEntries(migrated);
      staging.see(stored.place.file);
      if (operations.length + added.length === 0) return undefined;
      return transaction.change({ stored, operations, added });
    },
    unreadable: ({ place }) => staging.see(place.file),
    finish: () => undefined,
  });
}

/** A step that cannot be treated as an entry, as an error with its place; any other error as it is. */
const asTrouble = (error: unknown, file: MigrationFile): unknown => {
  if (error instanceof EntryMisfit) return misfitTrouble(file, error.misfit);
  return error;
};
