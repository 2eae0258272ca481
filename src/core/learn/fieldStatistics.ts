import { isList, isObject, type Json, type JsonObject } from '../plain/json.ts';
import { type GatheredTexts, type TextFacts, TextStatistics } from './textStatistics.ts';

/** Objects with more keys than these altogether are maps, and their keys are data. */
const mostKeys = 120;

/** Plain counts. */
const counted = [
  ...(['holders', 'filled', 'emptyLists', 'emptyTexts', 'lists', 'singles'] as const),
  ...(['texts', 'integers', 'decimals', 'booleans', 'objects', 'others', 'ownIds'] as const),
];

/** Statistics of the values in one place: plain data. */
export interface GatheredValues extends Readonly<Record<(typeof counted)[number], number>> {
  readonly items: { readonly least: number; readonly most: number };
  readonly numbers: { readonly least: number; readonly most: number };
  readonly text: GatheredTexts;
  readonly inside: ReadonlyMap<string, GatheredValues>;
  readonly any: GatheredValues | undefined;
  readonly example: Json | undefined;
}

/** Everything that was seen of the values in one place. */
export class FieldStatistics {
  /** How many places there were for a value, and in how many of them there was one. */
  holders = 0;
  filled = 0;
  /** In how many of them there was a list without an item. */
  emptyLists = 0;
  /** In how many of them there was a text without a letter. */
  emptyTexts = 0;
  lists = 0;
  singles = 0;
  items = { least: Number.POSITIVE_INFINITY, most: 0 };
  /** Single values by their types; each item of a list counts. */
  texts = 0;
  integers = 0;
  decimals = 0;
  booleans = 0;
  objects = 0;
  others = 0;
  /** Texts that are the identifier of the entry that they are in. */
  ownIds = 0;
  numbers = { least: Number.POSITIVE_INFINITY, most: Number.NEGATIVE_INFINITY };
  /** The content of objects, by its key; no more than can be distinguished. */
  readonly inside = new Map<string, FieldStatistics>();
  /** All that stands inside of objects whose keys are data. */
  any: FieldStatistics | undefined;
  example: Json | undefined;
  readonly #texts = new TextStatistics();
  #facts: TextFacts | undefined;

  /** Takes the value of one place; nothing where it is empty. @param id the identifier of the entry that it is in. */
  see(value: Json | undefined, id: string): void {
    this.holders += 1;
    if (isNone(value)) {
      if (isList(value)) this.emptyLists += 1;
      if (value === '') this.emptyTexts += 1;
      return;
    }

    this.filled += 1;
    this.example ??= value;
    if (!isList(value)) {
      this.singles += 1;
      this.#one(value, id);
      return;
    }

    this.lists += 1;
    this.items = widened(this.items, value.length);
    for (const item of value) this.#one(item, id);
  }

  /** Takes the statistics of another place, as if its values were in this one. */
  take(other: GatheredValues): void {
    for (const key of counted) this[key] += other[key];
    this.items = {
      least: Math.min(this.items.least, other.items.least),
      most: Math.max(this.items.most, other.items.most),
    };
    this.numbers = {
      least: Math.min(this.numbers.least, other.numbers.least),
      most: Math.max(this.numbers.most, other.numbers.most),
    };
    this.#texts.take(other.text);
    this.example ??= other.example;
    for (const [key, gathered] of other.inside) this.#under(key).take(gathered);

    if (other.any) {
      this.any ??= new FieldStatistics();
      this.any.take(other.any);
    }
  }

  /** The statistics, for another one to take. */
  gathered(): GatheredValues {
    const { items, numbers, inside, any, example } = this;
    return {
      ...(Object.fromEntries(counted.map((key) => [key, this[key]])) as Record<(typeof counted)[number], number>),
      items,
      numbers,
      text: this.#texts.done(),
      inside: new Map([...inside].map(([key, statistics]) => [key, statistics.gathered()])),
      any: any?.gathered(),
      example,
    };
  }

  /** How many single values there were. */
  get count(): number {
    return this.texts + this.integers + this.decimals + this.booleans + this.objects + this.others;
  }

  /** What the texts among them are like, once all are seen. */
  get text(): TextFacts {
    this.#facts ??= this.#texts.facts();
    return this.#facts;
  }

  #one(value: Json, id: string): void {
    if (typeof value === 'string') {
      this.texts += 1;
      if (value === id) this.ownIds += 1;
      this.#texts.add(value);
    } else if (typeof value === 'number') {
      if (Number.isSafeInteger(value)) this.integers += 1;
      else this.decimals += 1;
      const { least, most } = this.numbers;
      if (value < least || value > most) this.numbers = widened(this.numbers, value);
    } else if (typeof value === 'boolean') this.booleans += 1;
    else if (isObject(value)) this.#object(value, id);
    else this.others += 1;
  }

  #object(value: JsonObject, id: string): void {
    this.objects += 1;
    for (const [key, item] of Object.entries(value)) this.#under(key).see(item, id);
  }

  #under(key: string): FieldStatistics {
    const existing = this.inside.get(key);
    if (existing) return existing;
    if (this.inside.size < mostKeys) {
      const fresh = new FieldStatistics();
      this.inside.set(key, fresh);
      return fresh;
    }

    this.any ??= new FieldStatistics();
    return this.any;
  }
}

const widened = ({ least, most }: { readonly least: number; readonly most: number }, by: number) => ({
  least: Math.min(least, by),
  most: Math.max(most, by),
});

/** What counts as no value, as for every field. */
const isNone = (value: Json | undefined): value is undefined | null | '' =>
  value === undefined ||
  value === null ||
  value === '' ||
  (isList(value) ? value.length === 0 : isObject(value) && Object.keys(value).length === 0);
