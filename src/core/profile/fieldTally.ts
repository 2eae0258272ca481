import type { Status } from '../definition/builtIn.ts';
import type { Measure } from '../kinds/compatibility.ts';
import type { Field } from '../model/link.ts';
import { hashOf } from '../plain/columns.ts';
import type { Json } from '../plain/json.ts';
import { type CountedNumbers, Spread } from './spread.ts';
import { textShape } from './textShape.ts';
import { type CountedValues, ValueCounts } from './valueCounts.ts';

/** Counts of a field: plain data, so that it can cross into another thread. */
export interface CountedField {
  /** How many places there are for it: its entries, or the objects that it is inside of. */
  readonly of: number;
  readonly filled: number;
  /** How many single values there are. */
  readonly singles: number;
  /** The same by the status of the entry. */
  readonly ofIn: ReadonlyMap<Status, number>;
  readonly filledIn: ReadonlyMap<Status, number>;
  /** In how many of them it has a value in a language, where it differs by that. */
  readonly languages: ReadonlyMap<string, number>;
  /** How many items its lists have. */
  readonly items: CountedNumbers;
  /** How large its single values are: characters of a text, a number itself, a day. */
  readonly sizes: CountedNumbers;
  readonly smallest: Extreme | undefined;
  readonly largest: Extreme | undefined;
  /** Single values by {@link keyOfValue}. */
  readonly values: CountedValues;
  /** Shapes of texts. */
  readonly shapes: CountedValues;
}

/** A size with the entry that has it. */
export interface Extreme {
  readonly size: number;
  readonly entry: string;
}

/** Longer values are known by a hash of them, and never shown. */
const longestKept = 120;

/** What a single value is counted by: itself as JSON, or its hash if it is long. */
function keyOfValue(value: Json): string {
  const text = JSON.stringify(value);
  if (text.length <= longestKept) return text;
  return `#${hashOf(text)} ${hashOf(text, text.length)} ${text.length}`;
}

/** The value that a key stands for; `undefined` of one that is long. */
export const valueOfKey = (key: string): Json | undefined => {
  if (!isShown(key)) return undefined;
  return JSON.parse(key) as Json;
};

/** Whether a counted value is the value itself, not its hash. */
export const isShown = (key: string): boolean => !key.startsWith('#');

/** How the values of a field are measured; `undefined` where more and less mean nothing for them. */
export const measureOf = ({ kind }: Pick<Field, 'kind'>): Measure | undefined =>
  kind.changed.max?.measure ?? kind.changed.min?.measure;

/** Counts one more, or several, under a key. */
export function increase<K>(counts: Map<K, number>, key: K, by = 1): void {
  counts.set(key, (counts.get(key) ?? 0) + by);
}

/** Counts how a field is used. */
export class FieldTally {
  readonly #measure: Measure | undefined;
  /** Whether its values are texts of any shape. */
  readonly #isText: boolean;
  readonly #ofIn = new Map<Status, number>();
  readonly #filledIn = new Map<Status, number>();
  readonly #languages = new Map<string, number>();
  readonly #items = new Spread();
  readonly #sizes = new Spread();
  readonly #values = new ValueCounts();
  readonly #shapes = new ValueCounts();
  #of = 0;
  #filled = 0;
  #singles = 0;
  #smallest: Extreme | undefined;
  #largest: Extreme | undefined;

  constructor(field: Field) {
    this.#measure = measureOf(field);
    this.#isText = field.kind.changed.pattern !== undefined;
  }

  /** A place for a value. */
  place(status: Status): void {
    this.#of += 1;
    increase(this.#ofIn, status);
  }

  /** A value is in it. */
  fill(status: Status): void {
    this.#filled += 1;
    increase(this.#filledIn, status);
  }

  language(name: string): void {
    increase(this.#languages, name);
  }

  items(number: number): void {
    this.#items.add(number);
  }

  /** A single value. */
  value(value: Json, entry: string): void {
    this.#singles += 1;
    this.#values.add(keyOfValue(value));
    const size = this.#measure?.of(value);
    if (size !== undefined) {
      this.#sizes.add(size);
      this.#extreme({ size, entry });
    }

    if (!this.#isText || typeof value !== 'string') return;

    const shape = textShape(value);
    if (shape !== undefined) this.#shapes.add(shape);
  }

  #extreme(extreme: Extreme): void {
    if (!this.#smallest || extreme.size < this.#smallest.size) this.#smallest = extreme;
    if (!this.#largest || extreme.size > this.#largest.size) this.#largest = extreme;
  }

  /** Takes what others counted behind it. */
  take(other: CountedField): void {
    this.#of += other.of;
    this.#filled += other.filled;
    this.#singles += other.singles;
    for (const [status, times] of other.ofIn) increase(this.#ofIn, status, times);
    for (const [status, times] of other.filledIn) increase(this.#filledIn, status, times);
    for (const [name, times] of other.languages) increase(this.#languages, name, times);
    this.#items.take(other.items);
    this.#sizes.take(other.sizes);
    this.#values.take(other.values);
    this.#shapes.take(other.shapes);
    for (const extreme of [other.smallest, other.largest]) if (extreme) this.#extreme(extreme);
  }

  done(): CountedField {
    return {
      of: this.#of,
      filled: this.#filled,
      singles: this.#singles,
      ofIn: this.#ofIn,
      filledIn: this.#filledIn,
      languages: this.#languages,
      items: this.#items.done(),
      sizes: this.#sizes.done(),
      smallest: this.#smallest,
      largest: this.#largest,
      values: this.#values.done(),
      shapes: this.#shapes.done(),
    };
  }
}
