import { z } from 'zod';
import type { Entry } from '../../core/entry/entry.ts';
import { keyOf } from '../../core/entry/entry.ts';
import type { Migrated } from '../../core/migration/plan.ts';
import { RoundTrip } from '../../core/migration/roundTrip.ts';
import { JsonValue } from '../../core/plain/jsonValue.ts';
import { eachEntry } from '../../passes/pass.ts';
import { type WalkOptions, walk } from '../../passes/walk.ts';
import type { EntryStore } from '../../stores/store.ts';
import { type Migrating, migrateStored } from './migrateStored.ts';

/** What entries are once they were taken there and back, step by step. */
export const ThereAndBack = z.strictObject({
  /** How many entries are what they were. */
  same: z.int(),
  /** How many are but for what the steps lose or give, which is named. */
  named: z.int(),
  /** How many are but for values that were converted, and are written otherwise on the way back. */
  otherwise: z.int(),
  /** Values that differ and that no step named: the first of them. */
  wrong: z.array(
    z.strictObject({
      entry: z.string(),
      field: z.string(),
      before: JsonValue.optional(),
      back: JsonValue.optional(),
    }),
  ),
});
export type ThereAndBack = z.output<typeof ThereAndBack>;

const mostTold = 50;

/** Takes every entry through the steps, and back through the inverse of each; tells what is not what it was. */
export async function thereAndBack(
  store: EntryStore,
  migrating: Migrating,
  options: WalkOptions,
): Promise<ThereAndBack> {
  const way = new RoundTrip(migrating.file.migration.steps, migrating.plan);
  const round = (see: (migrated: Migrated, entry: Entry) => void) => {
    const pass = eachEntry({
      see: (stored) => see(migrateStored(stored, migrating), stored.entry),
      finish: () => undefined,
    });
    return walk(store, [pass], options);
  };

  await round((migrated) => way.see(migrated));
  for (const number of way.seen()) {
    await round((migrated) => way.show(number, migrated));
    way.shown(number);
  }

  const result: ThereAndBack = { same: 0, named: 0, otherwise: 0, wrong: [] };
  await round((migrated, entry) => {
    const { wrong, named, otherwise } = way.takeBack(entry, migrated);
    if (wrong.length > 0) result.wrong.push(...wrong.map((unlike) => ({ entry: keyOf(entry), ...unlike })));
    else if (named.length > 0) result.named += 1;
    else if (otherwise.length > 0) result.otherwise += 1;
    else result.same += 1;

    result.wrong.length = Math.min(result.wrong.length, mostTold);
  });

  return result;
}
