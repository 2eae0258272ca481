import type { Entry } from '../entry/entry.ts';
import { listSeparator } from '../plain/cells.ts';
import { FieldStatistics, type GatheredValues } from './fieldStatistics.ts';
import { Gates, type GatheredGates } from './gates.ts';
import { type GatheredIds, IdStatistics, Ids } from './ids.ts';

/** So many entries of a type are kept as they are, to see which fields are made from others. */
const sampled = 200;

/** Statistics of the entries of a type: plain data. */
export interface GatheredType {
  readonly entries: number;
  readonly isTable: boolean;
  readonly keys: ReadonlyMap<string, GatheredValues>;
  readonly lists: ReadonlyMap<string, GatheredValues>;
  readonly prose: GatheredValues;
  readonly gates: GatheredGates;
  readonly sample: readonly Entry[];
}

/** Statistics of entries: plain data. */
export interface GatheredEntries {
  readonly types: ReadonlyMap<string, GatheredType>;
  readonly ids: GatheredIds;
}

/** Statistics of the entries of a type. */
export class TypeStatistics {
  entries = 0;
  isTable = false;
  readonly keys = new Map<string, FieldStatistics>();
  /** The same of a table, with cells taken for lists where they could be some. */
  readonly lists = new Map<string, FieldStatistics>();
  readonly prose = new FieldStatistics();
  readonly gates = new Gates();
  /** Some entries as they are. */
  readonly sample: Entry[] = [];

  see(entry: Entry, isTable: boolean): void {
    const { id, values, prose } = entry;
    this.entries += 1;
    this.isTable ||= isTable;
    for (const [key, value] of Object.entries(values)) {
      seenUnder(this.keys, key).see(value, id);
      if (isTable && typeof value === 'string' && value !== '')
        seenUnder(this.lists, key).see(value.split(listSeparator), id);
    }

    if (prose !== undefined) this.prose.see(prose, id);
    this.gates.see(values);
    if (this.sample.length < sampled) this.sample.push(entry);
  }

  take(other: GatheredType): void {
    this.entries += other.entries;
    this.isTable ||= other.isTable;
    for (const [key, gathered] of other.keys) seenUnder(this.keys, key).take(gathered);
    for (const [key, list] of other.lists) seenUnder(this.lists, key).take(list);
    this.prose.take(other.prose);
    this.gates.take(other.gates);
    this.sample.push(...other.sample.slice(0, sampled - this.sample.length));
  }

  gathered(): GatheredType {
    const { entries, isTable, keys, lists, prose, gates, sample } = this;
    const gatheredIn = (statistics: ReadonlyMap<string, FieldStatistics>): ReadonlyMap<string, GatheredValues> =>
      new Map([...statistics].map(([key, fieldStatistics]) => [key, fieldStatistics.gathered()]));

    return {
      entries,
      isTable,
      keys: gatheredIn(keys),
      lists: gatheredIn(lists),
      prose: prose.gathered(),
      gates: gates.done(),
      sample,
    };
  }
}

function seenUnder(byKey: Map<string, FieldStatistics>, key: string): FieldStatistics {
  const existing = byKey.get(key) ?? new FieldStatistics();
  byKey.set(key, existing);
  return existing;
}

/**
 * Everything that was seen of entries, each of which is looked at once. Its memory does not grow with their size; with their
 * number by eight bytes for each of them, and for each of its texts that could name another.
 */
export class EntryStatistics {
  readonly types = new Map<string, TypeStatistics>();
  readonly #ids = new IdStatistics();
  #known: Ids | undefined;

  /** @param isTable whether it is a row of a table, whose cells are texts. */
  see(entry: Entry, isTable: boolean): void {
    this.#typeOf(entry.type).see(entry, isTable);
    this.#ids.add(entry.type, entry.id);
  }

  /** Adds the statistics of later entries. */
  take({ types, ids }: GatheredEntries): void {
    for (const [name, type] of types) this.#typeOf(name).take(type);
    this.#ids.take(ids);
  }

  /** The statistics, for others to take. */
  gathered(): GatheredEntries {
    return { types: new Map([...this.types].map(([name, type]) => [name, type.gathered()])), ids: this.#ids.done() };
  }

  /** The identifiers of all entries, once all are seen. */
  get ids(): Ids {
    this.#known ??= new Ids(this.#ids.done());
    return this.#known;
  }

  #typeOf(name: string): TypeStatistics {
    const existing = this.types.get(name) ?? new TypeStatistics();
    this.types.set(name, existing);
    return existing;
  }
}
