import { isId } from '../definition/address.ts';
import { compact } from '../plain/json.ts';
import { count, groupThousands, list, listSome, quote } from '../plain/words.ts';
import type { FieldStatistics } from './fieldStatistics.ts';
import { writtenKinds } from './textStatistics.ts';
import { type Learning, roundUp, type Value, value } from './value.ts';

/** So few values say nothing of what all of them are like; of even fewer it cannot be stated that they have to be there. */
export const [enough, fewest] = [10, 3];

/** So many different values are choices; each stands so often, on average, and is no longer than that. */
export const [mostChoices, often] = [12, 3];
const shortChoice = 100;
const mostTerms = 500;
/** In lists, so often; they are no longer, in characters. */
const [oftenInLists, shortTerm] = [1.5, 40];
/** So many can be choices where a person says so. */
const mostSaid = 100;

/** Texts with counts of them. */
export interface Texts {
  readonly name: string;
  readonly statistics: FieldStatistics;
  readonly learning: Learning;
  /** How often each of them stands, where all of them are distinguished; else of none. */
  readonly counts: ReadonlyMap<string, number>;
  readonly isExact: boolean;
  /** How many different ones there are, where all of them are distinguished. */
  readonly different: number;
  /** Whether so many are all but the odd ones. */
  readonly isMost: (number: number) => boolean;
}

/** What texts can be, the strictest first; nothing where they are not. */
const readings: readonly ((texts: Texts) => Value | undefined)[] = [writtenSo, assets, slugs, references, vocabulary];

/** What texts are treated as, without a doubt. */
export const takenFor = (texts: Texts): Value => firstReading(texts) ?? proseOf(texts);

function firstReading(texts: Texts): Value | undefined {
  for (const reading of readings) {
    const value = reading(texts);
    if (value) return value;
  }
  return undefined;
}

/** Texts with what reading them needs, prepared once. */
export function textsOf(name: string, statistics: FieldStatistics, learning: Learning): Texts {
  const { counts } = statistics.text;
  return {
    name,
    statistics,
    learning,
    counts: counts ?? new Map(),
    isExact: counts !== undefined,
    different: counts?.size ?? 0,
    isMost: (number) => number >= (1 - learning.tolerated) * statistics.texts,
  };
}

/** Texts taken for values of one kind, however many of them are none; nothing where not one is. */
export function textsAs(
  kind: string,
  name: string,
  statistics: FieldStatistics,
  learning: Learning,
): Value | undefined {
  const texts = textsOf(name, statistics, learning);
  if (statistics.texts === 0) return undefined;

  const against = statistics.count - statistics.texts;
  const written = writtenKinds.find((writtenKind) => writtenKind === kind);
  if (written) return (statistics.text.written.get(written) ?? 0) > 0 ? writtenAs(written, texts) : undefined;

  switch (kind) {
    case 'text':
    case 'longText':
    case 'markdown':
      return plainly(kind, texts);
    case 'choice':
      return wordsIn(texts, (words) => (words.different <= mostSaid ? choicesOf(words) : undefined));
    case 'term':
      return wordsIn(texts, termsOf);
    case 'reference':
      return pointing(texts, 0);
    case 'asset':
      return value({ kind }, 'as you said', against);
    default:
      return undefined;
  }
}

function writtenSo(texts: Texts): Value | undefined {
  const kind = writtenKinds.find((writtenKind) => texts.isMost(texts.statistics.text.written.get(writtenKind) ?? 0));
  return kind && writtenAs(kind, texts);
}

/** Texts as a kind with a standard form. */
export function writtenAs(kind: (typeof writtenKinds)[number], { statistics }: Texts): Value {
  const fitting = statistics.text.written.get(kind) ?? 0;
  return value(
    { kind },
    `${groupThousands(fitting)} of ${groupThousands(statistics.texts)} are written so`,
    statistics.count - fitting,
  );
}

function assets({ statistics, learning, counts, isExact }: Texts): Value | undefined {
  const isAll = isExact && counts.size > 0 && [...counts.keys()].every(learning.isAsset);
  if (!isAll) return undefined;
  return value({ kind: 'asset' }, 'all are files below assets', statistics.count - statistics.texts);
}

function slugs({ name, statistics, isMost }: Texts): Value | undefined {
  const isOwn = isMost(statistics.ownIds);
  if (!isMost(statistics.text.slugs) || !(isOwn || (name === 'slug' && statistics.text.areDifferent())))
    return undefined;
  return value(
    { kind: 'slug' },
    isOwn ? 'it is the identifier of its entry' : 'all different',
    statistics.count - statistics.text.slugs,
  );
}

function references(texts: Texts): Value | undefined {
  // What names the entry that it is in points at nothing.
  return pointing(texts, 1 - texts.learning.tolerated, texts.statistics.ownIds * 2 > texts.statistics.texts);
}

/**
 * Texts that name entries.
 * @param share so many of them do at least.
 * @param isOwn whether most name the entry that they are in.
 */
export function pointing(texts: Texts, share: number, isOwn = false): Value | undefined {
  const { statistics, learning } = texts;
  const { ids } = learning;
  const { counts, hashes, some } = statistics.text;
  // Very many different ones that are no identifiers are reported by some of them.
  const reported = counts ?? countsOf(some);
  const isTold = counts !== undefined || hashes !== undefined;
  const total = isTold ? statistics.texts : some.length;
  const isEnough = (number: number): boolean => number > 0 && number >= share * total;
  const { types, hits } = ids.typed(reported);
  const [only = ''] = types;
  const outOf = `${groupThousands(total)}${isTold ? '' : ' looked at'}`;
  if (isEnough(hits))
    return value(
      { kind: 'reference', to: types.length === 1 ? only : [...types] },
      `${groupThousands(hits)} of ${outOf} name entries of ${list(types)}`,
      isTold ? statistics.count - hits : 0,
    );

  const seems = isOwn ? undefined : ids.target(reported);
  const target = seems && hashes && counts === undefined ? ids.target(hashes()) : seems;
  if (!target || !isEnough(target.hits) || (share > 0 && target.hits < fewest)) return undefined;
  return value(
    { kind: 'reference', to: target.type },
    `${groupThousands(target.hits)} of ${outOf} are identifiers of ${target.type}`,
    isTold ? statistics.count - target.hits : 0,
  );
}

function countsOf(texts: readonly string[]): ReadonlyMap<string, number> {
  const counts = new Map<string, number>();
  for (const text of texts) counts.set(text, (counts.get(text) ?? 0) + 1);
  return counts;
}

/** `10.1.2`, `v2`, `≤ 37`, `4.0-beta.1`, `15`: what counts releases or measures something, so that others come. */
const countsOn = /^[v<>=~^≤≥ ]{0,3}\d+(?:[._-]\d+)*(?:[-+.]?(?:alpha|beta|rc|dev|x)[.\d]*)?$/iu;

/** So large a share of the words has to be such. */
const mostCountOn = 0.8;

/** Whether words are numbers or versions, of which nobody makes a closed list. */
export const areNumbered = (words: readonly string[]): boolean =>
  words.length > 0 && words.filter((word) => countsOn.test(word)).length >= mostCountOn * words.length;

function vocabulary(texts: Texts): Value | undefined {
  const { statistics, different } = texts;
  if (areNumbered([...texts.counts.keys()])) return undefined;

  // Short words in lists are what things are sorted by, where any stand again.
  const least = statistics.lists > 0 && statistics.text.longest <= shortTerm ? oftenInLists : often;
  const isOne = statistics.texts >= enough && statistics.texts >= least * different && isVocabulary(texts);
  if (!isOne) return undefined;
  if (different <= mostChoices && statistics.lists === 0) return choicesOf(texts);
  return termsOf(texts);
}

/** Texts as they would be without blanks around them, and how many have such. */
interface Trimmed {
  readonly words: Texts;
  readonly untrimmed: number;
  /** One that has blanks around it. */
  readonly example: string;
}

/** Texts without the blanks around some of them, which no choice and no term may have; nothing where none has any. */
export function trimmedTexts(texts: Texts): Trimmed | undefined {
  const untrimmed = [...texts.counts].filter(([text]) => text !== text.trim());
  const [first] = untrimmed;
  if (!first) return undefined;

  const counts = new Map<string, number>();
  for (const [text, times] of texts.counts) counts.set(text.trim(), (counts.get(text.trim()) ?? 0) + times);
  const sum = untrimmed.reduce((sum, [, times]) => sum + times, 0);
  return { words: { ...texts, counts, different: counts.size }, untrimmed: sum, example: first[0] };
}

/** Texts taken for words of a closed list; those with blanks around them speak against it. */
export function wordsIn(texts: Texts, read: (words: Texts) => Value | undefined): Value | undefined {
  if (isVocabulary(texts)) return read(texts);
  const trimmed = trimmedTexts(texts);
  const value = trimmed && isVocabulary(trimmed.words) ? read(trimmed.words) : undefined;
  if (value && trimmed) return { ...value, against: value.against + trimmed.untrimmed };
  return undefined;
}

/** Whether all texts are short, and such as choices and terms are called. */
export const isVocabulary = ({ statistics, counts, isExact }: Texts): boolean =>
  isExact && statistics.text.longest <= shortChoice && statistics.text.lines === 0 && [...counts.keys()].every(isId);

/** Texts as choices, the most frequent first. */
export function choicesOf({ statistics, counts, different }: Texts): Value {
  const members = byFrequency(counts);
  return value(
    { kind: 'choice', choices: [...members] },
    `only ${different === 1 ? 'one' : `${different} different ones`}: ${listSome(
      members.map((member) => quote(member, 20)),
      4,
    )}`,
    statistics.count - statistics.texts,
  );
}

function termsOf({ name, statistics, learning, counts, different }: Texts): Value | undefined {
  const taxonomy = different <= mostTerms ? learning.taxonomyOf(name) : undefined;
  if (taxonomy === undefined) return undefined;

  const reason = `${different} different ones, each some ${groupThousands(Math.round(statistics.texts / different))} times`;
  return {
    ...value({ kind: 'term', taxonomy }, reason, statistics.count - statistics.texts),
    terms: byFrequency(counts),
  };
}

const byFrequency = (counts: ReadonlyMap<string, number>): readonly string[] =>
  [...counts].toSorted(([a, x], [b, y]) => y - x || (a < b ? -1 : 1)).map(([text]) => text);

/** Texts that are nothing but texts. */
export function proseOf(texts: Texts): Value {
  const { statistics } = texts;
  if (statistics.text.marked * 4 >= statistics.texts && statistics.text.lines > 0) return plainly('markdown', texts);
  return plainly(statistics.text.lines > 0 || statistics.text.longest > longLine ? 'longText' : 'text', texts);
}

/** A line that is longer is no line any more, in characters. */
const longLine = 300;

function plainly(kind: 'text' | 'longText' | 'markdown', { statistics }: Texts): Value {
  const { texts, longest, lines, marked, blank, areDifferent } = statistics.text;
  const against = statistics.count - texts;
  const long = [`up to ${count(longest, 'character')}`, ...otherwise(statistics)].join(', ');
  if (kind === 'markdown')
    return value({ kind }, marked > 0 ? `${groupThousands(marked)} have the signs of Markdown` : long, against);
  if (kind === 'longText')
    return value({ kind }, lines > 0 ? `${groupThousands(lines)} have several lines` : long, against);

  const isCode = texts >= 2 * enough && blank === 0 && areDifferent();

  return value(
    compact({ kind, max: roundUp(longest), unique: isCode || undefined }),
    isCode ? `${long}, all different` : long,
    against + lines,
  );
}

/** So large a share of texts says that all may be intended so. */
export const half = 0.5;

/** What most of some texts are to a person, and are not written as. */
function otherwise({ text, texts }: FieldStatistics): readonly string[] {
  const { numbersElse, datesElse } = text;
  return [
    ...(numbersElse >= half * texts
      ? [`${groupThousands(numbersElse)} look like numbers, which are written 1234.5 here`]
      : []),
    ...(datesElse >= half * texts
      ? [`${groupThousands(datesElse)} look like dates, which are written 2026-03-01 here`]
      : []),
  ];
}
