import type { FactKeys } from '../core/definition/builtIn.ts';
import type { StoreOptions } from '../core/definition/workspace.ts';
import { EntryStatistics, type GatheredEntries } from '../core/learn/entryStatistics.ts';
import { type NamedEntries, named } from '../core/learn/namedKeys.ts';
import { storeName } from '../stores/open.ts';
import type { Stored } from '../stores/store.ts';
import { type PartResult, type PartWork, type Pass, request, type Work } from './pass.ts';

/** Statistics of all entries, and how many things cannot be read as one. */
export interface AllSeen extends NamedEntries {
  readonly unreadable: number;
}

/** Statistics of a part of a store: plain data. */
interface LearntPart {
  readonly stores: ReadonlyMap<string, GatheredEntries>;
  readonly unreadable: number;
}

/** Where the entries are that are looked at. */
interface LearntHome {
  readonly content: readonly StoreOptions[];
  readonly factKeys: FactKeys;
}

/** The names of the stores that keep tables, whose cells are texts. */
const tablesIn = (content: readonly StoreOptions[]): readonly string[] =>
  content.flatMap((store, index) => ('csv' in store ? [storeName(index)] : []));

/** Looking at entries, for any worker. Its data are the names of the stores that keep tables. */
export const learnWork: Work<readonly string[], LearntPart, undefined> = {
  name: 'learn',
  prepare: async (tables) => () => new LearnPart(tables),
};

/** Looks at entries, to learn a model from them. */
export function learnPass({ content, factKeys }: LearntHome): Pass<AllSeen, LearntPart, undefined> {
  const tables = tablesIn(content);
  const combined = new LearnPart(tables);
  return {
    prepare: async () => () => new LearnPart(tables),
    elsewhere: request(learnWork, tables),
    take: ({ result }) => combined.take(result),
    finish: () => ({ ...named(combined.stores, factKeys), unreadable: combined.missed }),
  };
}

/** Looks at the entries in a part of a store. */
class LearnPart implements PartWork<LearntPart> {
  /** The statistics, by the names of stores. */
  readonly stores = new Map<string, EntryStatistics>();
  /** How many things are where an entry should and cannot be read as one. */
  missed = 0;
  readonly #tables: ReadonlySet<string>;

  constructor(tables: readonly string[]) {
    this.#tables = new Set(tables);
  }

  see({ entry, place: { store } }: Stored): void {
    this.#of(store).see(entry, this.#tables.has(store));
  }

  unreadable(): void {
    this.missed += 1;
  }

  /** Adds the statistics of the next part. */
  take({ stores, unreadable }: LearntPart): void {
    for (const [store, gathered] of stores) this.#of(store).take(gathered);
    this.missed += unreadable;
  }

  done(): PartResult<LearntPart> {
    const stores = new Map([...this.stores].map(([store, statistics]) => [store, statistics.gathered()]));
    return { result: { stores, unreadable: this.missed }, rest: undefined };
  }

  #of(store: string): EntryStatistics {
    const existing = this.stores.get(store) ?? new EntryStatistics();
    this.stores.set(store, existing);
    return existing;
  }
}
