import { hashOf } from '../plain/columns.ts';

/** So much of a text tells it apart from others, in characters. */
const hashed = 200;

/**
 * Some of many different texts: those with the smallest hashes (bottom-k sampling, Cohen and Kaplan 2007). The same are
 * chosen in whatever order, and in whatever parts, the texts come.
 */
export class TextSample {
  readonly #most: number;
  #byHash = new Map<number, string>();
  #bound = Number.POSITIVE_INFINITY;

  /** @param most how many texts are chosen. */
  constructor(most: number) {
    this.#most = most;
  }

  add(text: string): void {
    const hash = hashOf(text.length > hashed ? text.slice(0, hashed) : text) >>> 0;
    if (hash > this.#bound) return;

    const existing = this.#byHash.get(hash);
    if (existing === undefined || text < existing) this.#byHash.set(hash, text);
    if (this.#byHash.size >= 2 * this.#most) this.#dropLargest();
  }

  /** The texts that are chosen, by their hashes. */
  texts(): readonly string[] {
    this.#dropLargest();
    return [...this.#byHash.values()];
  }

  #dropLargest(): void {
    const smallest = [...this.#byHash].sort(([a], [b]) => a - b).slice(0, this.#most);
    this.#byHash = new Map(smallest);
    if (smallest.length === this.#most) this.#bound = smallest.at(-1)?.[0] ?? this.#bound;
  }
}
