import type { Finding } from '../core/entry/findings.ts';
import { type Misfit, type Plan, stagesThatSeeAll } from '../core/migration/plan.ts';
import type { Look } from '../core/rules/lookUp.ts';
import type { EntryStore, Stored } from '../stores/store.ts';
import { JoinedAhead } from './ahead.ts';
import { checkerFor } from './checker.ts';
import type { Circumstances } from './circumstances.ts';
import type { MigrationData } from './planAgain.ts';
import { type RehearsalTally, RehearsalTeller } from './rehearsalTold.ts';
import { type PartRehearsed, RehearsePart } from './rehearsePart.ts';
import type { Pass } from './walk.ts';

/** A migration that is rehearsed on the entries of a store. */
export interface RehearsalOf extends Circumstances {
  readonly store: EntryStore;
  readonly plan: Plan;
  /** Looks into other entries, where the migration does. */
  readonly look: Look | undefined;
  /** What the plan was made from. */
  readonly data: MigrationData;
  /** Says why a step cannot be treated as an entry. */
  readonly refuse: (misfit: Misfit) => Error;
}

/** What a migration does to all entries. */
export interface Rehearsed extends RehearsalTally {
  /** Problems of them afterwards. */
  readonly findings: readonly Finding[];
}

/** Takes every entry of a store through a migration, checks the result, and writes nothing. */
export async function rehearsePass({
  store,
  plan,
  data,
  refuse,
  ...rest
}: RehearsalOf): Promise<Pass<Stored, Rehearsed>> {
  const { look, currentTime, assets } = rest;
  const teller = new RehearsalTeller();
  const after = new JoinedAhead(plan.after, currentTime);
  const partHere = new RehearsePart(store, { plan, look, checker: await checkerFor(plan.after, rest) });

  const take = (part: PartRehearsed): void => {
    if (part.misfit) throw refuse(part.misfit);
    teller.take(part.told);
    after.take(part.after);
  };

  // Only this thread knows the other entries.
  const isAlone = look !== undefined || stagesThatSeeAll(plan).length > 0;

  return {
    map: (stored) => stored,
    fold: (stored) => {
      const waiting = partHere.see(stored);
      if (partHere.misfit) throw refuse(partHere.misfit);
      return waiting;
    },
    finish: () => {
      take(partHere.done().made);
      return { ...teller.told(), findings: after.found().findings };
    },
    ...(isAlone ? {} : { apart: { work: { pass: 'rehearse', ...data, currentTime, assets }, take } }),
  };
}
