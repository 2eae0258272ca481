/** Counts references from type to type. */
export class PairCount {
  readonly #counts = new Map<string, number>();

  /** The same for types that have numbers. */
  of(from: readonly string[], to: readonly string[]): { readonly add: (from: number, to: number) => void } {
    const known = new Map<number, string>();
    return {
      add: (a, b) => {
        const number = a * to.length + b;
        const name = known.get(number) ?? `${from[a]} → ${to[b]}`;
        if (!known.has(number)) known.set(number, name);
        this.#counts.set(name, (this.#counts.get(name) ?? 0) + 1);
      },
    };
  }

  byName(): ReadonlyMap<string, number> {
    return this.#counts;
  }
}
