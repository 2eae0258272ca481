/** Many texts as one: plain data that costs no object for each of them. */
export interface Texts {
  readonly text: string;
  /** Where each ends. */
  readonly ends: Uint32Array;
}

/** One of many texts. */
export const textAt = ({ text, ends }: Texts, index: number): string =>
  text.slice(index === 0 ? 0 : ends[index - 1], ends[index]);

/** Whether a text is a certain one of many. Nothing is cut out for it. */
export function isTextAt({ text, ends }: Texts, index: number, other: string): boolean {
  const start = index === 0 ? 0 : (ends[index - 1] ?? 0);
  return (ends[index] ?? 0) - start === other.length && text.startsWith(other, start);
}

/** Whether two of many texts are the same. */
export function areSame(some: Texts, index: number, texts: Texts, other: number): boolean {
  const start = index === 0 ? 0 : (some.ends[index - 1] ?? 0);
  const from = other === 0 ? 0 : (texts.ends[other - 1] ?? 0);
  const length = (some.ends[index] ?? 0) - start;
  if (length !== (texts.ends[other] ?? 0) - from) return false;

  for (let index = 0; index < length; index += 1)
    if (some.text.charCodeAt(start + index) !== texts.text.charCodeAt(from + index)) return false;
  return true;
}

/** Gathers texts into one. */
export class TextColumn {
  readonly #texts: string[] = [];

  get size(): number {
    return this.#texts.length;
  }

  add(text: string): void {
    this.#texts.push(text);
  }

  done(): Texts {
    const ends = new Uint32Array(this.#texts.length);
    let end = 0;
    for (const [index, text] of this.#texts.entries()) {
      end += text.length;
      ends[index] = end;
    }

    return { text: this.#texts.join(''), ends };
  }
}

/** Gives each text that it meets a number, from nought up. */
export class Numbering {
  readonly #numbers = new Map<string, number>();
  readonly texts: string[] = [];

  numberOf(text: string): number {
    const existing = this.#numbers.get(text);
    if (existing !== undefined) return existing;
    const number = this.texts.length;
    this.#numbers.set(text, number);
    this.texts.push(text);
    return number;
  }
}

/** Numbers in a row that grows. */
class Column<N extends Int32Array | Float64Array> {
  readonly #make: (length: number) => N;
  #numbers: N;
  size = 0;

  constructor(make: (length: number) => N) {
    this.#make = make;
    this.#numbers = make(64);
  }

  add(number: number): void {
    if (this.size === this.#numbers.length) this.#grow(this.size + 1);
    this.#numbers[this.size] = number;
    this.size += 1;
  }

  /** Adds the same number several times. */
  fill(number: number, times: number): void {
    const size = this.size + times;
    if (size > this.#numbers.length) this.#grow(size);
    this.#numbers.fill(number, this.size, size);
    this.size = size;
  }

  addAll(numbers: N): void {
    const size = this.size + numbers.length;
    if (size > this.#numbers.length) this.#grow(size);
    this.#numbers.set(numbers, this.size);
    this.size = size;
  }

  #grow(least: number): void {
    const larger = this.#make(Math.ceil(least * 1.5));
    larger.set(this.#numbers);
    this.#numbers = larger;
  }

  at(index: number): number {
    return this.#numbers[index] ?? 0;
  }

  done(): N {
    return this.#numbers.slice(0, this.size) as N;
  }
}

/** Whole numbers in a row that grows: 32 bits each. */
export class NumberColumn extends Column<Int32Array> {
  constructor() {
    super((length) => new Int32Array(length));
  }
}

/**
 * A number that stands for a text: 32 bits, the same for the same text. Others may have the same one, so that anyone who
 * finds it looks at the texts as well. FNV-1a over UTF-16 code units, mixed at the end as MurmurHash3 does it.
 * @param seed a hash of the texts before it, where several make one key.
 */
export function hashOf(text: string, seed = 0): number {
  let hash = seed ^ 0x811c9dc5;
  for (let index = 0; index < text.length; index += 1) hash = Math.imul(hash ^ text.charCodeAt(index), 0x01000193);
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35);
  return hash ^ (hash >>> 16);
}

/**
 * A number of 53 bits that stands for a text, for many texts that only this number distinguishes: of a million different ones two
 * have the same with a chance of 1 in 18,000.
 */
export const wideHashOf = (text: string): number => (hashOf(text, goldenRatio) >>> 11) * 2 ** 32 + (hashOf(text) >>> 0);
const goldenRatio = 0x9e3779b9;

/** Such numbers in a row that grows. */
export class WideColumn extends Column<Float64Array> {
  constructor() {
    super((length) => new Float64Array(length));
  }
}

/** How many different numbers there are among some that are in their order. */
export function differentIn(sorted: Float64Array): number {
  let different = 0;
  for (let index = 0; index < sorted.length; index += 1) if (sorted[index] !== sorted[index - 1]) different += 1;
  return different;
}

/** Finds numbers by hashes: a table with open addressing, eight bytes and less for each, which grows as it has to. */
export class HashIndex {
  #slots = new Int32Array(256);
  readonly #hashes = new NumberColumn();
  readonly #skipped = new Set<number>();

  /** How many numbers it knows; the next one is that. */
  get size(): number {
    return this.#hashes.size;
  }

  /** The number with a hash for which something holds. */
  find(hash: number, isIt: (number: number) => boolean): number | undefined {
    const mask = this.#slots.length - 1;
    for (let slot = hash & mask; ; slot = (slot + 1) & mask) {
      const number = (this.#slots[slot] ?? 0) - 1;
      if (number < 0) return undefined;
      if (this.#hashes.at(number) === hash && isIt(number)) return number;
    }
  }

  /** Takes the next number. */
  add(hash: number): void {
    if (this.size * 3 >= this.#slots.length * 2) this.#grow();
    this.#put(this.size, hash);
    this.#hashes.add(hash);
  }

  /** Lets a number pass that is never to be found. */
  skip(): void {
    this.#skipped.add(this.size);
    this.#hashes.add(0);
  }

  #put(number: number, hash: number): void {
    const mask = this.#slots.length - 1;
    let slot = hash & mask;
    while (this.#slots[slot] !== 0) slot = (slot + 1) & mask;
    this.#slots[slot] = number + 1;
  }

  #grow(): void {
    this.#slots = new Int32Array(this.#slots.length * 2);
    for (let number = 0; number < this.size; number += 1)
      if (!this.#skipped.has(number)) this.#put(number, this.#hashes.at(number));
  }
}
