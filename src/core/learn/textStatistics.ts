import { isId, isSlug } from '../definition/address.ts';
import { kinds } from '../kinds/index.ts';
import { nowhere } from '../kinds/nowhere.ts';
import { placeholder } from '../model/placeholder.ts';
import { differentIn, WideColumn, wideHashOf } from '../plain/columns.ts';
import { once } from '../plain/once.ts';
import { TextSample } from './textSample.ts';

/** Kinds that a text can be of by the way it is written, the strictest first. */
export const writtenKinds = ['dateTime', 'date', 'time', 'duration', 'email', 'webAddress', 'colour'] as const;
/** A kind whose values have a standard text form. */
export type WrittenKind = (typeof writtenKinds)[number];

const checks = new Map(writtenKinds.map((name) => [name, kinds.get(name)?.check({}, nowhere)]));

/** Whether a text is written as values of a kind are. */
function fits(kind: WrittenKind, text: string): boolean {
  let isFine = true;
  checks.get(kind)?.(text, () => {
    isFine = false;
  });
  return isFine;
}

/** So many different texts are distinguished, and none that is longer, in characters. */
const [mostDifferent, longestCompared] = [1000, 200];

/** So many texts are tried as a kind that fits none of them. */
const fewTried = 40;

/** So many texts are kept where not all different ones are. */
const sampled = 500;

/**
 * Counts of texts: `thousandths` are numbers with just three digits behind the point, which may part thousands;
 * `numbersElse` and `datesElse` are such to a person, written as no number and no date is here.
 */
const counted = [
  ...(['texts', 'slugs', 'numbers', 'fractions', 'thousandths', 'booleans'] as const),
  ...(['lines', 'marked', 'blank', 'placeholders', 'numbersElse', 'datesElse'] as const),
] as const;

/** What texts look like, summed up: plain data. */
interface TextSums extends Readonly<Record<(typeof counted)[number], number>> {
  /** In characters. */
  readonly longest: number;
  /** Of those that are numbers. */
  readonly least: number;
  readonly most: number;
  readonly written: ReadonlyMap<WrittenKind, number>;
  /** Some of the different ones, each as likely as any other. */
  readonly some: readonly string[];
  /** A hash of each of them, as long as all could be identifiers of entries. */
  readonly ids: Float64Array | undefined;
}

/** Statistics of texts, as plain data: few different ones are only counted, of more, their forms are summed up. */
export type GatheredTexts = { readonly counts: ReadonlyMap<string, number> } | { readonly sums: TextSums };

/** What texts are like. */
export interface TextFacts extends Omit<TextSums, 'ids'> {
  /** How often each of them stands; nothing where there are too many different ones to tell. */
  readonly counts: ReadonlyMap<string, number> | undefined;
  /** Whether no two are the same. */
  readonly areDifferent: () => boolean;
  /**
   * A hash of each of them, in the order of these numbers, where they are too many to be in `counts` and all could be
   * identifiers of entries.
   */
  readonly hashes: (() => Float64Array) | undefined;
}

/** Signs that tell what a text is like, each a bit: a blank, a line break, half of a letter (UTF-16), one that Markdown marks by. */
const sign = { blank: 1, line: 2, half: 4, mark: 8 } as const;
const signs = new Uint8Array(0x80);
for (const [letters, bits] of [
  ['\t\v\f ', sign.blank],
  ['\n\r', sign.blank | sign.line],
  ['#]*-', sign.mark],
] as const)
  for (const letter of letters) signs[letter.charCodeAt(0)] = bits;

const otherBlanks = new Set([0xa0, 0x1680, 0x202f, 0x205f, 0x3000, 0xfeff]);

/** The same of a letter that is not one of ASCII. */
function signsOf(code: number): number {
  if (code >= 0xd800 && code <= 0xdfff) return sign.half;
  if (code === 0x2028 || code === 0x2029) return sign.blank | sign.line;
  if ((code >= 0x2000 && code <= 0x200a) || otherBlanks.has(code)) return sign.blank;
  return 0;
}

function signsIn(text: string): number {
  let count = 0;
  for (let index = 0; index < text.length; index += 1) {
    const code = text.charCodeAt(index);
    count |= code < signs.length ? (signs[code] ?? 0) : signsOf(code);
  }

  return count;
}

const markdown = /^#{1,6} |\]\([^)\s]+\)|\*\*[^*]+\*\*|^[-*] /mu;

/** `1.234,50`, `1 234`, `3,5`; and `1.5.2026`, `5/1/26`, `2026/05/01`. */
const numberElse = /^[-+]?(?:\d{1,3}(?:[.,'’ \u00a0\u202f]\d{3})+(?:[.,]\d+)?|\d+,\d+)$/u;
const dateElse = /^(?:\d{1,2}([./-])\d{1,2}\1\d{2,4}|\d{4}([./])\d{1,2}\2\d{1,2})$/u;

/** No longer are yes and no, and numbers, in characters. */
const [longestWord, longestNumber] = [5, 40];

/** Sums up what texts look like. */
class Sums {
  readonly #count = Object.fromEntries(counted.map((name) => [name, 0])) as Record<(typeof counted)[number], number>;
  #longest = 0;
  #least = Number.POSITIVE_INFINITY;
  #most = Number.NEGATIVE_INFINITY;
  readonly #written = new Map<WrittenKind, number>(writtenKinds.map((kind) => [kind, 0]));
  readonly #sample = new TextSample(sampled);
  #ids: WideColumn | undefined = new WideColumn();
  /** The kinds that texts are still tried as. */
  #tried: readonly WrittenKind[] = writtenKinds;
  #looked = 0;

  /** Takes what a text looks like. @param times how often it stands. */
  look(text: string, times: number): void {
    const count = this.#count;
    count.texts += times;
    this.#looked += 1;
    if (this.#looked === fewTried) this.#tried = writtenKinds.filter((kind) => this.#timesWritten(kind) > 0);
    const signs = signsIn(text);
    const length = (signs & sign.half) === 0 ? text.length : [...text].length;
    if (length > this.#longest) this.#longest = length;
    if (signs & sign.line) count.lines += times;
    if (signs & sign.blank) count.blank += times;
    else if (isSlug(text)) count.slugs += times;
    if (signs & sign.mark && markdown.test(text)) count.marked += times;
    if (text.startsWith(placeholder.start)) count.placeholders += times;
    if (text.length <= longestWord && /^(?:true|false)$/iu.test(text)) count.booleans += times;
    const number = text.length <= longestNumber ? /^-?(?:0|[1-9]\d{0,14})(?<fraction>\.\d+)?$/u.exec(text) : null;
    if (number) {
      count.numbers += times;
      const fraction = number.groups?.fraction;
      if (fraction !== undefined) count.fractions += times;
      if (fraction?.length === 4) count.thousandths += times;
      this.#least = Math.min(this.#least, Number(text));
      this.#most = Math.max(this.#most, Number(text));
    } else if (text.length <= longestNumber) {
      if (numberElse.test(text)) count.numbersElse += times;
      else if (dateElse.test(text)) count.datesElse += times;
    }

    for (const kind of this.#tried) if (fits(kind, text)) this.#written.set(kind, this.#timesWritten(kind) + times);
  }

  /** Takes a text that is not told apart from others, {@link look} included. */
  add(text: string, times = 1): void {
    if (this.#ids && !isId(text)) this.#ids = undefined;
    const hash = this.#ids && wideHashOf(text);
    if (hash !== undefined) for (let time = 1; time <= times; time += 1) this.#ids?.add(hash);
    this.#sample.add(text);
    this.look(text, times);
  }

  /** What most of are written as something else, such as dates, names no entries. */
  forgetIfWritten(): void {
    if (writtenKinds.some((kind) => 2 * this.#timesWritten(kind) > this.#count.texts)) this.#ids = undefined;
  }

  #timesWritten(kind: WrittenKind): number {
    return this.#written.get(kind) ?? 0;
  }

  take(other: TextSums): void {
    for (const text of other.some) this.#sample.add(text);
    for (const key of counted) this.#count[key] += other[key];
    this.#longest = Math.max(this.#longest, other.longest);
    this.#least = Math.min(this.#least, other.least);
    this.#most = Math.max(this.#most, other.most);
    for (const [kind, times] of other.written) this.#written.set(kind, this.#timesWritten(kind) + times);
    if (other.ids) this.#ids?.addAll(other.ids);
    else this.#ids = undefined;
  }

  done(): TextSums {
    return {
      ...this.#count,
      longest: this.#longest,
      least: this.#least,
      most: this.#most,
      written: this.#written,
      some: this.#sample.texts(),
      ids: this.#ids?.done(),
    };
  }
}

/** Looks at texts: each different one is looked at once as long as they are few. Memory grows by eight bytes for each of more, and only where all could be identifiers. */
export class TextStatistics {
  #counts: Map<string, { times: number }> | undefined = new Map();
  #sums: Sums | undefined;

  add(text: string, times = 1): void {
    const existing = this.#counts?.get(text);
    if (existing) existing.times += times;
    else if (this.#counts && this.#counts.size < mostDifferent && text.length <= longestCompared)
      this.#counts.set(text, { times });
    else this.#summed().add(text, times);
  }

  take(other: GatheredTexts): void {
    if ('sums' in other) this.#summed().take(other.sums);
    else for (const [text, times] of other.counts) this.add(text, times);
  }

  /** Plain data, for another one to take. */
  done(): GatheredTexts {
    if (this.#sums) return { sums: this.#sums.done() };
    return { counts: this.#counted() };
  }

  facts(): TextFacts {
    if (!this.#sums) {
      const counts = this.#counted();
      const sums = new Sums();
      for (const [text, times] of counts) sums.look(text, times);
      const { ids: _, ...looks } = sums.done();
      return { ...looks, counts, areDifferent: () => counts.size === looks.texts, hashes: undefined };
    }

    const { ids, ...sums } = this.#sums.done();
    // Put in order where somebody asks: most texts are reported from identifiers by some of them.
    const hashes = ids && once(() => ids.sort());
    const areDifferent = (): boolean => hashes !== undefined && differentIn(hashes()) === sums.texts;

    return { ...sums, counts: undefined, areDifferent, hashes };
  }

  #counted(): ReadonlyMap<string, number> {
    return new Map([...(this.#counts ?? [])].map(([text, { times }]) => [text, times]));
  }

  #summed(): Sums {
    if (this.#sums) return this.#sums;
    this.#sums = new Sums();
    for (const [text, times] of this.#counted()) this.#sums.add(text, times);
    this.#sums.forgetIfWritten();
    this.#counts = undefined;
    return this.#sums;
  }
}
