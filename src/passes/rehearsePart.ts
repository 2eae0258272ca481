import type { Checker } from '../core/check/compile.ts';
import type { Entry } from '../core/entry/entry.ts';
import { entryAfter, newEntries } from '../core/migration/entriesAfter.ts';
import { EntryMisfit, type Migrated, type Misfit, migrateEntry, type Plan } from '../core/migration/plan.ts';
import type { Look } from '../core/rules/lookUp.ts';
import type { EntryStore, Stored } from '../stores/store.ts';
import { type AheadChecked, AheadPart } from './aheadPart.ts';
import { type RehearsalTally, RehearsalTeller } from './rehearsalTold.ts';

/** What rehearsing a migration on some entries tells, as plain data. */
export interface PartRehearsed {
  readonly told: RehearsalTally;
  /** Problems of the entries after the migration. */
  readonly after: AheadChecked;
  /** Why a step could not be treated as an entry: later entries were not read. */
  readonly misfit: Misfit | undefined;
}

/** What takes entries through a migration, and checks the result. */
export interface Rehearsing {
  readonly plan: Plan;
  /** Looks into other entries, where the migration does. */
  readonly look?: Look | undefined;
  /** Checks by the model that the migration leads to. */
  readonly checker: Checker;
}

/** Takes some entries through a migration, each while it is read, and writes nothing. */
export class RehearsePart {
  readonly #store: EntryStore;
  readonly #rehearsing: Rehearsing;
  readonly #teller = new RehearsalTeller();
  readonly #after: AheadPart;
  #misfit: Misfit | undefined;

  constructor(store: EntryStore, rehearsing: Rehearsing) {
    this.#store = store;
    this.#rehearsing = rehearsing;
    this.#after = new AheadPart(rehearsing.plan.after, rehearsing.checker);
  }

  get misfit(): Misfit | undefined {
    return this.#misfit;
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
    return this.#store.attempt({ stored: stored, operations, added });
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

  unreadable(): void {
    // Steps skip unreadable entries; a check reports them.
  }

  done(): { readonly made: PartRehearsed } {
    return { made: { told: this.#teller.told(), after: this.#after.done().made, misfit: this.#misfit } };
  }
}
