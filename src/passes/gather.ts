import { allShown, type Plan, showEntry, stagesThatSeeAll } from '../core/migration/plan.ts';
import type { Look } from '../core/rules/lookUp.ts';
import type { EntryStore } from '../stores/store.ts';
import { entriesPass } from './facts.ts';
import { type WalkOptions, walk } from './walk.ts';

/** Shows all entries of a store to the steps of a plan that have to know them; where there are none, nothing is read. */
export async function showAll(store: EntryStore, plan: Plan, look: Look | undefined, options: WalkOptions = {}) {
  for (const index of stagesThatSeeAll(plan)) {
    await walk(store, [entriesPass((entry) => showEntry(plan, index, entry, look))], options);
    allShown(plan, index);
  }
}
