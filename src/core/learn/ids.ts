import { isId } from '../definition/address.ts';
import { differentIn, WideColumn, wideHashOf } from '../plain/columns.ts';

/** Hashes of the identifiers of each type: plain data. */
export type GatheredIds = ReadonlyMap<string, { readonly hashes: Float64Array; readonly unfit: number }>;

/** Gathers the identifiers of entries: eight bytes for each. */
export class IdStatistics {
  readonly #types = new Map<string, { readonly hashes: WideColumn; unfit: number }>();

  add(type: string, id: string): void {
    const ids = this.#of(type);
    ids.hashes.add(wideHashOf(id));
    if (!isId(id)) ids.unfit += 1;
  }

  take(other: GatheredIds): void {
    for (const [type, { hashes, unfit }] of other) {
      const ids = this.#of(type);
      ids.hashes.addAll(hashes);
      ids.unfit += unfit;
    }
  }

  done(): GatheredIds {
    return new Map([...this.#types].map(([type, { hashes, unfit }]) => [type, { hashes: hashes.done(), unfit }]));
  }

  #of(type: string): { readonly hashes: WideColumn; unfit: number } {
    const ids = this.#types.get(type) ?? { hashes: new WideColumn(), unfit: 0 };
    this.#types.set(type, ids);
    return ids;
  }
}

/** The identifiers of the entries of each type, so that what points at them is found. */
export class Ids {
  /** In the order of these numbers. */
  #hashes: ReadonlyMap<string, Float64Array>;
  #unfit: ReadonlyMap<string, number>;

  constructor(gathered: GatheredIds) {
    this.#hashes = new Map([...gathered].map(([type, { hashes }]) => [type, hashes.toSorted()]));
    this.#unfit = new Map([...gathered].map(([type, { unfit }]) => [type, unfit]));
  }

  /** The identifiers of some of the types alone. */
  among(types: ReadonlySet<string>): Ids {
    const some = new Ids(new Map());
    some.#hashes = new Map([...this.#hashes].filter(([type]) => types.has(type)));
    some.#unfit = this.#unfit;
    return some;
  }

  /** Whether the identifiers of all entries of a type are written as such, and no two have the same. */
  areInOrder(type: string): boolean {
    const hashes = this.#hashes.get(type);
    return hashes !== undefined && this.#unfit.get(type) === 0 && differentIn(hashes) === hashes.length;
  }

  /** The types at whose entries texts point that say the type before the identifier; how many of them do. */
  typed(texts: ReadonlyMap<string, number>): { readonly types: readonly string[]; readonly hits: number } {
    const byType = new Map<string, number>();
    for (const [text, times] of texts) {
      const slash = text.indexOf('/');
      const type = text.slice(0, Math.max(0, slash));
      const hashes = this.#hashes.get(type);
      if (hashes && isIn(hashes, wideHashOf(text.slice(slash + 1)))) byType.set(type, (byType.get(type) ?? 0) + times);
    }

    const types = [...byType].toSorted(([, a], [, b]) => b - a).map(([type]) => type);
    return { types, hits: [...byType.values()].reduce((sum, times) => sum + times, 0) };
  }

  /**
   * The type at whose entries most of some texts point, by identifiers alone; and how many of them do.
   * @param texts how often each stands, or a hash of each in the order of these numbers.
   */
  target(
    texts: ReadonlyMap<string, number> | Float64Array,
  ): { readonly type: string; readonly hits: number } | undefined {
    const hashed =
      texts instanceof Float64Array ? texts : [...texts].map(([text, times]) => [wideHashOf(text), times] as const);
    let best: { readonly type: string; readonly hits: number } | undefined;
    for (const [type, ids] of this.#hashes) {
      const hits =
        hashed instanceof Float64Array
          ? hitsIn(ids, hashed)
          : hashed.reduce((sum, [hash, times]) => sum + (isIn(ids, hash) ? times : 0), 0);
      if (hits > (best?.hits ?? 0)) best = { type, hits };
    }

    return best;
  }
}

/** Whether a number is among some that are in their order. */
function isIn(sorted: Float64Array, number: number): boolean {
  let [from, to] = [0, sorted.length];
  while (from < to) {
    const middle = (from + to) >>> 1;
    if ((sorted[middle] ?? 0) < number) from = middle + 1;
    else to = middle;
  }

  return sorted[from] === number;
}

/** How many of some numbers are among others; both are in their order. */
function hitsIn(sorted: Float64Array, numbers: Float64Array): number {
  let [hits, index] = [0, 0];
  for (const number of numbers) {
    while (index < sorted.length && (sorted[index] ?? 0) < number) index += 1;
    if (sorted[index] === number) hits += 1;
  }

  return hits;
}
