import { celOfField } from '../definition/fieldName.ts';
import { isEmpty } from '../entry/entry.ts';
import { Numbering } from '../plain/columns.ts';
import type { Json, JsonObject } from '../plain/json.ts';

/** A value by which others may be reported: a word, or a yes or no. */
type Word = string | boolean;

/** How many entries have a value, and how many of these have each other key. */
interface Behind {
  count: number;
  /** By the number of the key. */
  readonly present: number[];
}

/** Statistics of a key with few values, by value. */
type Gate = Map<Word, Behind>;

/** Statistics of keys and those beside them: plain data. */
export interface GatheredGates {
  /** All keys, which `present` numbers. */
  readonly keys: readonly string[];
  readonly gates: ReadonlyMap<string, ReadonlyMap<Word, Behind>>;
  readonly open: ReadonlySet<string>;
  readonly entries: number;
}

/** A key may have so many values, and texts of so many characters, for other keys to depend on it. */
const [mostValues, longestValue] = [12, 40];

/** So many entries have to have a key, and as many not, for that to be no accident. */
const fewest = 10;

/** So many values of a key are named in a condition. */
const mostNamed = 3;

/** A key by which others may be reported. */
export interface Deciding {
  readonly name: string;
  readonly isBoolean: boolean;
}

/** When a key is there, told by another one. */
export interface Condition {
  /** In CEL: `entry.kind == "tour"`. */
  readonly when: string;
  /** How many entries meet it, and how many do not. */
  readonly meet: number;
  readonly elsewhere: number;
  /** How many of the first do not have the key, and how many of the others have it. */
  readonly against: number;
}

/**
 * Looks for keys that entries have exactly where another key of theirs has some value. Memory grows with the number of keys,
 * not with the one of entries.
 */
export class Gates {
  readonly #keys = new Numbering();
  readonly #gates = new Map<string, Gate>();
  /** Keys whose values are too many, or no single words. */
  readonly #open = new Set<string>();
  #entries = 0;

  see(values: JsonObject): void {
    this.#entries += 1;
    const numbers: number[] = [];
    const behind: Behind[] = [];
    for (const [key, value] of Object.entries(values)) {
      if (isEmpty(value)) continue;
      numbers.push(this.#keys.numberOf(key));
      const open = this.#open.has(key) ? undefined : this.#behind(key, wordOf(value));
      if (open) behind.push(open);
    }

    for (const open of behind) {
      open.count += 1;
      for (const number of numbers) open.present[number] = (open.present[number] ?? 0) + 1;
    }
  }

  take({ keys, gates, open, entries }: GatheredGates): void {
    this.#entries += entries;
    const numbers = keys.map((key) => this.#keys.numberOf(key));
    for (const key of open) this.#leaveOpen(key);
    for (const [key, values] of gates)
      for (const [value, { count, present }] of values) {
        const behind = this.#open.has(key) ? undefined : this.#behind(key, value);
        if (!behind) break;
        behind.count += count;
        for (const [index, other] of numbers.entries())
          behind.present[other] = (behind.present[other] ?? 0) + (present[index] ?? 0);
      }
  }

  /** Plain data, for another one to take. */
  done(): GatheredGates {
    return { keys: this.#keys.texts, gates: this.#gates, open: this.#open, entries: this.#entries };
  }

  /** Statistics behind a value of a key; nothing where that has too many. */
  #behind(key: string, value: Word | undefined): Behind | undefined {
    const gate = this.#gates.get(key) ?? new Map<Word, Behind>();
    const existing = value === undefined ? undefined : gate.get(value);
    if (existing) return existing;
    if (value === undefined || gate.size >= mostValues) {
      this.#leaveOpen(key);
      return undefined;
    }

    const fresh = { count: 0, present: [] };
    this.#gates.set(key, gate.set(value, fresh));

    return fresh;
  }

  #leaveOpen(key: string): void {
    this.#open.add(key);
    this.#gates.delete(key);
  }

  /**
   * @param key a key that only some entries have.
   * @param gates keys that every entry has, by which others may be reported: those of words, and those that say yes or no.
   * @param tolerated so large a share of entries may be otherwise.
   */
  conditionOf(key: string, gates: readonly Deciding[], tolerated: number): Condition | undefined {
    const conditions = gates
      .filter(({ name }) => name !== key)
      .flatMap((gate) => this.#told(key, gate, tolerated) ?? []);
    return conditions.toSorted((a, b) => a.against - b.against)[0];
  }

  #told(key: string, { name: by, isBoolean }: Deciding, tolerated: number): Condition | undefined {
    const number = this.#keys.numberOf(key);
    const values = [...(this.#gates.get(by) ?? [])].map(([value, { count, present }]) => ({
      value,
      count,
      present: present[number] ?? 0,
    }));
    // The cells of a table are texts, whatever they stand for.
    if (values.some(({ value }) => (typeof value === 'boolean') !== isBoolean)) return undefined;

    const sum = (some: typeof values, property: 'count' | 'present'): number =>
      some.reduce((sum, item) => sum + item[property], 0);
    const [inside, outside] = [
      values.filter(({ count, present }) => 2 * present > count),
      values.filter(({ count, present }) => 2 * present <= count),
    ];
    const [meet, elsewhere] = [sum(inside, 'count'), sum(outside, 'count')];
    if (meet + elsewhere < this.#entries || meet < fewest || elsewhere < fewest || inside.length > mostNamed)
      return undefined;

    const isSure = [...inside.map((item) => item.count - item.present), ...outside.map((item) => item.present)].every(
      (exceptions, index) => exceptions <= tolerated * ([...inside, ...outside][index]?.count ?? 0),
    );
    if (!isSure) return undefined;

    const names = inside.map(({ value }) => JSON.stringify(value));
    const when = `${celOfField(by)} ${names.length === 1 ? `== ${names[0]}` : `in [${names.join(', ')}]`}`;

    return { when, meet, elsewhere, against: meet - sum(inside, 'present') + sum(outside, 'present') };
  }
}

function wordOf(value: Json): Word | undefined {
  if (typeof value === 'boolean' || (typeof value === 'string' && value.length <= longestValue)) return value;
  return undefined;
}
