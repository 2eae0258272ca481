import { EntryStatistics, type GatheredEntries } from '../core/learn/entryStatistics.ts';
import type { Stored } from '../stores/store.ts';

/** Statistics of a part of a store, or of all stores: plain data. */
export interface LearntPart {
  readonly stores: ReadonlyMap<string, GatheredEntries>;
  /** How many things are where an entry should and cannot be read as one. */
  readonly missed: number;
}

/** Looks at the entries in a part of a store, to learn a model from them. */
export class LearnPart {
  /** The statistics, by the names of stores. */
  readonly stores = new Map<string, EntryStatistics>();
  /** How many things are where an entry should and cannot be read as one. */
  missed = 0;
  readonly #tables: ReadonlySet<string>;

  /** @param tables the stores that keep tables, whose cells are texts. */
  constructor(tables: readonly string[]) {
    this.#tables = new Set(tables);
  }

  see({ entry, place: { store } }: Stored): undefined {
    this.#of(store).see(entry, this.#tables.has(store));
  }

  unreadable(): void {
    this.missed += 1;
  }

  /** Adds the statistics of the next part. */
  take({ stores, missed }: LearntPart): void {
    for (const [store, gathered] of stores) this.#of(store).take(gathered);
    this.missed += missed;
  }

  done(): { readonly made: LearntPart } {
    return {
      made: {
        stores: new Map([...this.stores].map(([store, seenEntries]) => [store, seenEntries.gathered()])),
        missed: this.missed,
      },
    };
  }

  #of(store: string): EntryStatistics {
    const existing = this.stores.get(store) ?? new EntryStatistics();
    this.stores.set(store, existing);
    return existing;
  }
}
