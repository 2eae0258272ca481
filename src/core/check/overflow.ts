/** Room for the facts of very many entries: in memory up to a bound, above it somewhere else. */
export interface Overflow {
  /**
   * Puts plain data aside that is requested rarely, and then as a whole.
   * @param bytes about how much memory it takes.
   * @returns what brings it back.
   */
  aside<T>(value: T, bytes: number): () => T;
  /** Puts a long text aside. @returns what brings back a stretch of it. */
  text(text: string): (start: number, end: number) => string;
  /** Puts numbers aside. @returns what brings back one of them. */
  numbers(numbers: Numbers): (index: number) => number;
}

/** Numbers of which none is more than a whole one of 31 bits, or a large one. */
export type Numbers = Int32Array | Float64Array;

/** Memory alone, for data with a bound elsewhere. */
export const inMemory: Overflow = {
  aside: (value) => () => value,
  text: (text) => (start, end) => text.slice(start, end),
  numbers: (numbers) => (index) => numbers[index] ?? 0,
};
