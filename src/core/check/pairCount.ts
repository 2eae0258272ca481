/** Counts references from type to type. */
export class PairCount {
  readonly #counts = new Map<string, number>();

  /** The same for types that have numbers. */
  of(from: readonly string[], to: readonly string[]): { readonly add: (from: number, to: number) => void } {
    const firsts = new Map<number, string>();
    return {
      add: (a, b) => {
        const number = a * to.length + b;
        const name = firsts.get(number) ?? `${from[a]} → ${to[b]}`;
        if (!firsts.has(number)) firsts.set(number, name);
        this.#counts.set(name, (this.#counts.get(name) ?? 0) + 1);
      },
    };
  }

  byName(): ReadonlyMap<string, number> {
    return this.#counts;
  }
}
