import { celOfField } from '../definition/fieldName.ts';
import { isEmpty } from '../entry/entry.ts';
import { type Json, type JsonObject, own } from '../plain/json.ts';

/** Of a key whose values are few: how many entries have a value, and how many of these have each other key. */
interface Gate {
  readonly values: Map<string, { count: number; readonly present: Map<string, number> }>;
}

/** A key may have so many values, and texts of so many characters, for other keys to depend on it. */
const [mostValues, longestValue] = [12, 40];

/** So many entries have to have a key, and as many not, for that to be no accident. */
const fewest = 10;

/** So many values of a key are named in a condition. */
const mostNamed = 3;

/** A key by which others may be told. */
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
  readonly others: number;
  /** How many of the first do not have the key, and how many of the others have it. */
  readonly against: number;
}

/**
 * Looks for keys that entries have exactly where another key of theirs has some value. Memory grows with the number of keys,
 * not with that of entries.
 */
export class Gates {
  readonly #gates = new Map<string, Gate>();
  /** Keys whose values are too many, or no single words. */
  readonly #open = new Set<string>();
  #entries = 0;

  see(values: JsonObject): void {
    this.#entries += 1;
    const keys = Object.keys(values).filter((key) => !isEmpty(values[key]));
    for (const key of keys) {
      if (this.#open.has(key)) continue;
      const value = wordOf(own(values, key) ?? null);
      const gate = this.#gates.get(key) ?? { values: new Map() };
      if (value === undefined || (gate.values.size >= mostValues && !gate.values.has(value))) {
        this.#open.add(key);
        this.#gates.delete(key);
        continue;
      }
      this.#gates.set(key, gate);
      const seen = gate.values.get(value) ?? { count: 0, present: new Map<string, number>() };
      gate.values.set(value, seen);
      seen.count += 1;
      for (const other of keys) if (other !== key) seen.present.set(other, (seen.present.get(other) ?? 0) + 1);
    }
  }

  /**
   * @param key what is there only sometimes.
   * @param gates keys that every entry has, by which others may be told: those of words, and those that say yes or no.
   * @param tolerated so large a share of entries may be otherwise.
   */
  conditionOf(key: string, gates: readonly Deciding[], tolerated: number): Condition | undefined {
    const found = gates.filter(({ name }) => name !== key).flatMap((gate) => this.#told(key, gate, tolerated) ?? []);
    return found.toSorted((a, b) => a.against - b.against)[0];
  }

  #told(key: string, { name: by, isBoolean }: Deciding, tolerated: number): Condition | undefined {
    const values = [...(this.#gates.get(by)?.values ?? [])].map(([value, { count, present }]) => ({
      value,
      count,
      present: present.get(key) ?? 0,
    }));
    // The cells of a table are texts, whatever they stand for.
    if (values.some(({ value }) => value.startsWith('"') === isBoolean)) return undefined;
    const sum = (some: typeof values, what: 'count' | 'present'): number =>
      some.reduce((all, one) => all + one[what], 0);
    const [inside, outside] = [
      values.filter(({ count, present }) => 2 * present > count),
      values.filter(({ count, present }) => 2 * present <= count),
    ];
    const [meet, others] = [sum(inside, 'count'), sum(outside, 'count')];
    if (meet + others < this.#entries || meet < fewest || others < fewest || inside.length > mostNamed)
      return undefined;
    const isSure = [...inside.map((one) => one.count - one.present), ...outside.map((one) => one.present)].every(
      (odd, index) => odd <= tolerated * ([...inside, ...outside][index]?.count ?? 0),
    );
    if (!isSure) return undefined;
    const names = inside.map(({ value }) => value);
    const when = `${celOfField(by)} ${names.length === 1 ? `== ${names[0]}` : `in [${names.join(', ')}]`}`;
    return { when, meet, others, against: meet - sum(inside, 'present') + sum(outside, 'present') };
  }
}

/** A value as it is written in CEL, where it is a word or a yes or no. */
function wordOf(value: Json): string | undefined {
  if (typeof value === 'boolean') return String(value);
  return typeof value === 'string' && value.length <= longestValue ? JSON.stringify(value) : undefined;
}
