/** The identifiers of the entries of each type, so that what points at them is found. */
export class Ids {
  readonly #ids = new Map<string, Set<string>>();

  add(type: string, id: string): void {
    const known = this.#ids.get(type) ?? new Set();
    this.#ids.set(type, known.add(id));
  }

  /** The types at whose entries texts point that say the type before the identifier; how many of them do. */
  typed(texts: ReadonlyMap<string, number>): { readonly types: readonly string[]; readonly hits: number } {
    const byType = new Map<string, number>();
    for (const [text, times] of texts) {
      const slash = text.indexOf('/');
      const type = text.slice(0, Math.max(0, slash));
      if (this.#ids.get(type)?.has(text.slice(slash + 1))) byType.set(type, (byType.get(type) ?? 0) + times);
    }
    const types = [...byType].toSorted(([, a], [, b]) => b - a).map(([type]) => type);
    return { types, hits: [...byType.values()].reduce((sum, times) => sum + times, 0) };
  }

  /**
   * The type at whose entries most of some texts point, by identifiers alone; and how many of them do.
   */
  target(texts: ReadonlyMap<string, number>): { readonly type: string; readonly hits: number } | undefined {
    let best: { readonly type: string; readonly hits: number } | undefined;
    for (const [type, ids] of this.#ids) {
      let hits = 0;
      for (const [text, times] of texts) if (ids.has(text)) hits += times;
      if (hits > (best?.hits ?? 0)) best = { type, hits };
    }
    return best;
  }
}
