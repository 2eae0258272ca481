import { isSlug } from '../definition/address.ts';
import type { ModelContext } from '../kinds/define.ts';
import { kinds } from '../kinds/index.ts';
import { isList, isObject, type Json, type JsonObject } from '../plain/json.ts';
import { ValueCounts } from '../profile/valueCounts.ts';

/** Kinds that a text can be of by the way it is written, the strictest first. */
export const writtenKinds = ['dateTime', 'date', 'time', 'duration', 'email', 'webAddress', 'colour'] as const;
type WrittenKind = (typeof writtenKinds)[number];

/** The kinds look at values alone: there is no model yet. */
const nowhere: ModelContext = {
  languages: ['en'],
  types: [],
  taxonomies: [],
  taxonomyOf: () => undefined,
  languageOptions: {},
  acceptedAs: (type) => [type],
  kindsOf: () => undefined,
};

const checks = new Map(writtenKinds.map((name) => [name, kinds.get(name)?.check({}, nowhere)]));

/** Whether a text is written as values of a kind are. */
function fits(kind: WrittenKind, text: string): boolean {
  let isFine = true;
  checks.get(kind)?.(text, () => {
    isFine = false;
  });
  return isFine;
}

/** Texts longer than this are not compared with others: they tell nothing apart. */
const longestCompared = 200;

/** Objects with more keys than these altogether are maps, and their keys are data. */
const mostKeys = 120;

/** So many texts of all are kept. */
const sampled = 500;

/** So many texts are tried as a kind that fits none of them. */
const fewTried = 40;

/** What a text looks like, whatever field it stands in. */
interface TextLook {
  readonly isSlug: boolean;
  /** In characters. */
  readonly length: number;
  readonly hasLines: boolean;
  /** Whether it has the signs of Markdown. */
  readonly isMarked: boolean;
  /** The number that is written so, if it is one. */
  readonly number: number | undefined;
  readonly isBoolean: boolean;
}

/** So many texts are known again. */
const mostLooks = 256;

const lookOf = (value: string): TextLook => ({
  isSlug: isSlug(value),
  length: /[\ud800-\udfff]/.test(value) ? [...value].length : value.length,
  hasLines: value.includes('\n'),
  isMarked: /^#{1,6} |\]\([^)\s]+\)|\*\*[^*]+\*\*|^[-*] /mu.test(value),
  number: /^-?(?:0|[1-9]\d{0,14})(?:\.\d+)?$/u.test(value) ? Number(value) : undefined,
  isBoolean: /^(?:true|false)$/iu.test(value),
});

/** What is only counted. */
const counters = [
  ...(['holders', 'filled', 'emptyLists', 'lists', 'singles', 'texts', 'integers', 'decimals', 'booleans'] as const),
  ...(['objects', 'others', 'ownIds', 'slugs', 'numberTexts', 'booleanTexts', 'lines', 'marked'] as const),
];

/** Everything that was seen of the values in one place, in memory that does not grow with their number. */
export class Seen {
  /** How many places there were for a value, and in how many of them there was one. */
  holders = 0;
  filled = 0;
  /** In how many of them there was a list without an item. */
  emptyLists = 0;
  lists = 0;
  singles = 0;
  items = { least: Number.POSITIVE_INFINITY, most: 0 };
  /** Single values, by what they are: items of lists each. */
  texts = 0;
  integers = 0;
  decimals = 0;
  booleans = 0;
  objects = 0;
  others = 0;
  /** Texts that are the identifier of the entry that they stand in, and that have the form of slugs. */
  ownIds = 0;
  slugs = 0;
  /** Texts that are numbers, and that are `true` or `false`, written as such. */
  numberTexts = 0;
  booleanTexts = 0;
  /** Texts of several lines, and with the signs of Markdown. */
  lines = 0;
  marked = 0;
  longest = 0;
  least = Number.POSITIVE_INFINITY;
  most = Number.NEGATIVE_INFINITY;
  readonly written = new Map<WrittenKind, number>(writtenKinds.map((kind) => [kind, 0]));
  readonly values = new ValueCounts();
  /** Some texts of all, each as likely as any other: what very many different ones are is told by them. */
  readonly some: string[] = [];
  /** What stands inside objects, by its key; no more than can be told apart. */
  readonly inside = new Map<string, Seen>();
  /** All that stands inside of objects whose keys are data. */
  any: Seen | undefined;
  #state = 2463534242;
  readonly #looks = new Map<string, TextLook>();
  /** The kinds that texts are still tried as. */
  #tried: readonly WrittenKind[] = writtenKinds;
  example: { readonly entry: string; readonly value: Json } | undefined;

  /** Takes the value of one place; nothing where it is empty. */
  see(value: Json | undefined, entry: string): void {
    this.holders += 1;
    if (isNone(value)) {
      if (isList(value)) this.emptyLists += 1;
      return;
    }
    this.filled += 1;
    this.example ??= { entry, value };
    if (!isList(value)) {
      this.singles += 1;
      this.#one(value, entry);
      return;
    }
    this.lists += 1;
    this.items = { least: Math.min(this.items.least, value.length), most: Math.max(this.items.most, value.length) };
    for (const item of value) this.#one(item, entry);
  }

  /** Takes what was seen in another place, as if it had been seen in this one. */
  take(other: Seen): void {
    for (const key of counters) this[key] += other[key];
    this.items = {
      least: Math.min(this.items.least, other.items.least),
      most: Math.max(this.items.most, other.items.most),
    };
    this.longest = Math.max(this.longest, other.longest);
    this.least = Math.min(this.least, other.least);
    this.most = Math.max(this.most, other.most);
    for (const [kind, times] of other.written) this.written.set(kind, (this.written.get(kind) ?? 0) + times);
    this.values.take(other.values.done());
    this.some.push(...other.some.slice(0, sampled - this.some.length));
    this.example ??= other.example;
    for (const [key, one] of other.inside) {
      if (!this.inside.has(key) && this.inside.size < mostKeys) this.inside.set(key, new Seen());
      this.any ??= this.inside.has(key) ? undefined : new Seen();
      (this.inside.get(key) ?? this.any)?.take(one);
    }
    if (other.any) {
      this.any ??= new Seen();
      this.any.take(other.any);
    }
  }

  /** How many single values there were. */
  get count(): number {
    return this.texts + this.integers + this.decimals + this.booleans + this.objects + this.others;
  }

  #one(value: Json, entry: string): void {
    if (typeof value === 'string') this.#text(value, entry);
    else if (typeof value === 'number') this.#number(value);
    else if (typeof value === 'boolean') this.booleans += 1;
    else if (isObject(value)) this.#object(value, entry);
    else this.others += 1;
  }

  #text(value: string, entry: string): void {
    this.texts += 1;
    if (value.length === entry.length - entry.indexOf('/') - 1 && entry.endsWith(value)) this.ownIds += 1;
    const { isSlug: isOfSlug, length, hasLines, isMarked, number, isBoolean } = this.#looked(value);
    if (isOfSlug) this.slugs += 1;
    if (length > this.longest) this.longest = length;
    if (hasLines) this.lines += 1;
    if (isMarked) this.marked += 1;
    if (number !== undefined) {
      this.numberTexts += 1;
      this.least = Math.min(this.least, number);
      this.most = Math.max(this.most, number);
    }
    if (isBoolean) this.booleanTexts += 1;
    if (this.texts === fewTried + 1) this.#tried = this.#tried.filter((kind) => (this.written.get(kind) ?? 0) > 0);
    for (const kind of this.#tried) if (fits(kind, value)) this.written.set(kind, (this.written.get(kind) ?? 0) + 1);
    if (value.length <= longestCompared) this.values.add(value);
    // Reservoir sampling (Vitter 1985), by numbers that are the same each time.
    const place = this.texts <= sampled ? this.texts - 1 : Math.floor(this.#random() * this.texts);
    if (place < sampled) this.some[place] = value;
  }

  /** What a text looks like; of the first ones it is known when they come again. */
  #looked(value: string): TextLook {
    const known = this.#looks.get(value);
    if (known) return known;
    const look = lookOf(value);
    if (this.#looks.size < mostLooks) this.#looks.set(value, look);
    return look;
  }

  /** The next of some numbers from 0 to 1 that look random (xorshift, Marsaglia 2003). */
  #random(): number {
    this.#state ^= this.#state << 13;
    this.#state ^= this.#state >>> 17;
    this.#state ^= this.#state << 5;
    return (this.#state >>> 0) / 2 ** 32;
  }

  #number(value: number): void {
    if (Number.isSafeInteger(value)) this.integers += 1;
    else this.decimals += 1;
    this.least = Math.min(this.least, value);
    this.most = Math.max(this.most, value);
    this.values.add(String(value));
  }

  #object(value: JsonObject, entry: string): void {
    this.objects += 1;
    for (const [key, one] of Object.entries(value)) {
      if (!this.inside.has(key) && this.inside.size < mostKeys) this.inside.set(key, new Seen());
      this.any ??= this.inside.has(key) ? undefined : new Seen();
      (this.inside.get(key) ?? this.any)?.see(one, entry);
    }
  }
}

/** What counts as no value, as for every field. */
const isNone = (value: Json | undefined): value is undefined | null | '' =>
  value === undefined ||
  value === null ||
  value === '' ||
  (isList(value) ? value.length === 0 : isObject(value) && Object.keys(value).length === 0);
