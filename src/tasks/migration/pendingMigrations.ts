import { entryAfter, newEntries } from '../../core/migration/entriesAfter.ts';
import type { EntryStore } from '../../stores/store.ts';
import type { Workspace } from '../../workspace/open.ts';
import type { MigrationFile } from '../migrationFiles.ts';
import { modelWith } from '../modelOfEntries.ts';
import { type Migrating, migrateStored, prepared } from './migrateStored.ts';
import { prove } from './prove.ts';

/**
 * The migrations that wait to be run one after the other, from where the entries stand: each leads from where the one
 * before it ends, to a model that is known. Anyone who goes back to an older model does not go round from there.
 */
export function waiting(files: readonly MigrationFile[], from: string, workspace: Workspace): readonly MigrationFile[] {
  const chain: MigrationFile[] = [];
  const reached = new Set([from]);
  for (let hash = from; ; ) {
    const next = files.find(
      (file) =>
        file.migration.from === hash && !reached.has(file.migration.to) && modelWith(file.migration.to, workspace),
    );
    if (!next) return chain;

    chain.push(next);
    hash = next.migration.to;
    reached.add(hash);
  }
}

/** The entries as they will be once some migrations have run, one after the other: to be read, not to be changed. */
export async function afterAll(
  store: EntryStore,
  chain: readonly MigrationFile[],
  workspace: Workspace,
): Promise<EntryStore> {
  let ahead = store;
  for (const file of chain) ahead = after(ahead, await prepared(ahead, (await prove(workspace, file)).plan, file, {}));
  return ahead;
}

const after = (store: EntryStore, migrating: Migrating): EntryStore => ({
  can: store.can,
  parts: (atMost) => store.parts(atMost),
  locate: (place, path, body) => store.locate(place, path, body),
  get: async () => undefined,
  attempt: async () => undefined,
  wholeFile: () => undefined,
  linesOf: () => undefined,
  begin: () => {
    throw new Error('entries that are looked at ahead are not changed');
  },
  read: async function* (part) {
    for await (const item of store.read(part)) {
      if (!('entry' in item)) {
        yield item;
        continue;
      }

      const migrated = migrateStored(item, migrating);
      const { place, version } = item;
      if (!migrated.draft.isDeleted) yield { place, version, entry: entryAfter(item.entry, migrated.draft) };
      for (const entry of newEntries(migrated)) yield { place, version, entry };
    }
  },
});
