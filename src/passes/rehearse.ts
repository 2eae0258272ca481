import type { Checker } from '../core/check/compile.ts';
import type { Entry } from '../core/entry/entry.ts';
import type { Finding } from '../core/entry/findings.ts';
import { entryAfter, newEntries } from '../core/migration/entriesAfter.ts';
import {
  EntryMisfit,
  type Migrated,
  type Misfit,
  migrateEntry,
  type Plan,
  stagesThatSeeAll,
} from '../core/migration/plan.ts';
import type { Look } from '../core/rules/lookUp.ts';
import type { EntryStore, Stored } from '../stores/store.ts';
import { type AheadChecked, AheadPart, JoinedAhead } from './ahead.ts';
import { checkerFor } from './checker.ts';
import type { Circumstances } from './circumstances.ts';
import { type BeginPart, type PartResult, type PartWork, type Pass, request, type Work } from './pass.ts';
import { type MigrationData, planAgain } from './planAgain.ts';
import { type RehearsalTally, RehearsalTeller } from './rehearsalTold.ts';

/** A migration, and what looks into other entries where the migration does. */
interface Rehearsing {
  readonly plan: Plan;
  readonly look: Look | undefined;
}

/** A migration that is rehearsed on the entries of a store. */
export interface RehearsalOf extends Circumstances, Rehearsing {
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

/** What rehearsing a migration on a part of a store tells, as plain data. */
interface PartRehearsed {
  readonly told: RehearsalTally;
  /** Problems of the entries after the migration. */
  readonly after: AheadChecked;
  /** Why a step could not be treated as an entry: later entries were not read. */
  readonly misfit: Misfit | undefined;
}

/** Rehearsing, for any worker. */
export const rehearseWork: Work<MigrationData & Circumstances, PartRehearsed, undefined> = {
  name: 'rehearse',
  prepare: async (data, store) => begin({ plan: await planAgain(data), look: undefined }, data, store),
};

/** Takes every entry of a store through a migration, checks the result, and writes nothing. */
export function rehearsePass(rehearsal: RehearsalOf): Pass<Rehearsed, PartRehearsed, undefined> {
  const { plan, look, data, refuse, ...circumstances } = rehearsal;
  const teller = new RehearsalTeller();
  const after = new JoinedAhead(plan.after, circumstances.currentTime);
  // Only this thread knows the other entries.
  const isAlone = look !== undefined || stagesThatSeeAll(plan).length > 0;

  return {
    prepare: (store) => begin({ plan, look }, circumstances, store),
    elsewhere: isAlone ? undefined : request(rehearseWork, { ...data, ...circumstances }),
    take: ({ result }) => {
      if (result.misfit) throw refuse(result.misfit);
      teller.take(result.told);
      after.take(result.after);
    },
    finish: () => ({ ...teller.told(), findings: after.found().findings }),
  };
}

async function begin(
  rehearsing: Rehearsing,
  circumstances: Circumstances,
  store: EntryStore,
): Promise<BeginPart<PartRehearsed>> {
  const checker = await checkerFor(rehearsing.plan.after, circumstances);
  return () => new RehearsePart(store, rehearsing, checker);
}

/** Takes the entries of a part through a migration, each while it is read, and writes nothing. */
class RehearsePart implements PartWork<PartRehearsed> {
  readonly #store: EntryStore;
  readonly #rehearsing: Rehearsing;
  readonly #teller = new RehearsalTeller();
  readonly #after: AheadPart;
  #misfit: Misfit | undefined;

  /** @param checker checks by the model that the migration leads to. */
  constructor(store: EntryStore, rehearsing: Rehearsing, checker: Checker) {
    this.#store = store;
    this.#rehearsing = rehearsing;
    this.#after = new AheadPart(rehearsing.plan.after, checker);
  }

  see(stored: Stored): Promise<void> | undefined {
    const migrated = this.#migrate(stored.entry);
    if (!migrated) return undefined;

    const { place } = stored;
    const { draft } = migrated;
    const added = newEntries(migrated);
    this.#teller.see(stored, migrated);
    if (!draft.isDeleted) this.#after.see({ entry: entryAfter(stored.entry, draft), place });
    for (const entry of added) this.#after.see({ entry, place });
    const { operations } = draft;
    if (operations.length + added.length === 0) return undefined;
    // New texts are made although nothing is written, to find files that cannot be edited.
    return this.#store.attempt({ stored, operations, added });
  }

  #migrate(entry: Entry): Migrated | undefined {
    if (this.#misfit) return undefined;
    try {
      return migrateEntry(this.#rehearsing.plan, entry, this.#rehearsing.look);
    } catch (error) {
      if (!(error instanceof EntryMisfit)) throw error;
      this.#misfit = error.misfit;
      return undefined;
    }
  }

  done(): PartResult<PartRehearsed> {
    const [told, after] = [this.#teller.told(), this.#after.done().result];
    return { result: { told, after, misfit: this.#misfit }, rest: undefined };
  }
}
