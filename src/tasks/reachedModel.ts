import { planMigration } from '../core/migration/plan.ts';
import { hashModel } from '../core/revision/canonical.ts';
import type { Workspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import { type MigrationFile, readMigrations } from './migrationFiles.ts';
import { asNamed, type NamedModel } from './models.ts';

/**
 * The model that a migration leads to, worked out from its steps: it was run, and the model was changed again before
 * anybody recorded it. `undefined` where no migration leads there from a recorded model.
 */
export function reachedModel(modelHash: string, { root, records }: Workspace): NamedModel | undefined {
  const migrations = migrationsIn(root);
  const recorded = records.revisions.map(asNamed);

  const reach = (hash: string, above: ReadonlySet<string>): NamedModel | undefined => {
    const namedModel = recorded.find((model) => model.hash === hash);
    if (namedModel || above.has(hash)) return namedModel;

    for (const { file, migration } of migrations) {
      if (migration.to !== hash) continue;

      const start = reach(migration.from, new Set([...above, hash]));
      const planned = start && planMigration(migration.steps, start.definition);
      if (!planned || 'problem' in planned) continue;

      const { definition } = planned.value.after;
      if (hashModel(definition) === hash)
        return { name: `the model that ${file} leads to`, revision: undefined, definition, hash };
    }

    return undefined;
  };

  return reach(modelHash, new Set());
}

/** The migrations of a workspace; none where one of them cannot be read, which is reported where it is used. */
function migrationsIn(root: string): readonly MigrationFile[] {
  try {
    return readMigrations(root);
  } catch (error) {
    if (error instanceof Trouble) return [];
    throw error;
  }
}
