import { isFieldWord, isId, slugPattern } from '../definition/address.ts';
import { compact, type Json, type JsonObject } from '../plain/json.ts';
import { count, groupThousands, list, listSome, quote, rangeOf } from '../plain/words.ts';
import { distinctOf } from '../profile/valueCounts.ts';
import { Seen, writtenKinds } from './fieldStatistics.ts';
import type { Ids } from './ids.ts';

/** A field as it was learnt. */
export interface LearntField {
  readonly name: string;
  /** What a model says of it. */
  readonly says: JsonObject;
  /** What speaks for that. */
  readonly evidence: string;
  /** How many values speak against it. */
  readonly against: number;
  /** The fields inside it. */
  readonly fields: readonly LearntField[];
}

/** What fields are learnt beside. */
export interface Learning {
  /** So large a share of values may be otherwise: they are odd, not a reason for a loose model. */
  readonly tolerated: number;
  /** Whether texts may stand for numbers: in a table. */
  readonly isTable: boolean;
  readonly ids: Ids;
  readonly isLanguage: (key: string) => boolean;
  /** Whether a text is the name of a file that entries can show. */
  readonly isAsset: (text: string) => boolean;
  /** Notes languages in which values are written. */
  readonly speak: (languages: readonly string[]) => void;
  /** Notes the terms that values are of. @returns the name of their taxonomy, or nothing where they make none. */
  readonly classify: (field: string, terms: readonly string[]) => string | undefined;
}

/** So few values say nothing of what all of them are like; of even fewer it cannot be said that they have to be there. */
const [enough, fewest] = [10, 3];

/** So many different values are choices; each stands so often, on average, and is no longer. */
const [mostChoices, often, shortChoice] = [12, 3, 100];
const mostTerms = 500;

/** What values in a place say of the field that they are of. */
export function learnField(name: string, seen: Seen, learning: Learning): LearntField {
  const { tolerated } = learning;
  const { says, against, why, fields } = singleOf(name, seen, learning);
  const missing = seen.holders - seen.filled;
  const isRequired = seen.filled >= fewest && missing <= (seen.holders >= 5 * enough ? tolerated * seen.holders : 0);
  const isMany = seen.lists > tolerated * seen.filled;
  // A list that is there in every entry, and empty in some.
  const isAlwaysList = isMany && !isRequired && seen.filled >= fewest && seen.filled + seen.emptyLists === seen.holders;
  const isAlsoOne = isMany && seen.singles > tolerated * seen.filled;
  const oddForm = isMany ? 0 : seen.lists;
  return {
    name,
    says: {
      ...says,
      ...(isRequired || isAlwaysList ? { required: true } : {}),
      ...(isAlwaysList ? { mayBeEmpty: true } : {}),
      ...(isMany ? { many: isAlsoOne ? { orOne: true } : manyOf(seen) } : {}),
    },
    evidence: [
      `${groupThousands(seen.filled)} of ${groupThousands(seen.holders)} have one`,
      ...(isAlwaysList ? [`${groupThousands(seen.emptyLists)} an empty list`] : []),
      ...(isMany ? [`lists of ${rangeOf(seen.items.least, seen.items.most, 'item')}`] : []),
      why,
      seen.example ? `such as ${quote(seen.example.value, 40)}` : '',
      against + oddForm > 0 ? `${count(against + oddForm, 'value is', 'values are')} otherwise` : '',
    ]
      .filter(Boolean)
      .join('; '),
    against: against + oddForm + (isRequired ? missing : 0),
    fields,
  };
}

const manyOf = ({ items }: Seen): Json => (items.most <= 1 ? true : { max: roundUp(items.most) });

interface Value {
  readonly says: JsonObject;
  readonly why: string;
  readonly against: number;
  readonly fields: readonly LearntField[];
}

const value = (says: JsonObject, why: string, against = 0, fields: readonly LearntField[] = []): Value => ({
  says,
  why,
  against,
  fields,
});

/** What single values are, by what most of them are. */
function singleOf(name: string, seen: Seen, learning: Learning): Value {
  const { tolerated, isTable } = learning;
  const all = seen.count;
  const isMost = (number: number): boolean => all > 0 && number >= (1 - tolerated) * all;
  if (all === 0) return value({ kind: 'text' }, 'nothing tells of which kind it is');
  if (isMost(seen.objects)) return objectOf(seen, learning);
  if (isMost(seen.booleans)) return value({ kind: 'boolean' }, 'true or false', all - seen.booleans);
  if (isTable && isMost(seen.booleanTexts)) return value({ kind: 'boolean' }, 'true or false', all - seen.booleanTexts);
  const span = `${groupThousands(seen.least)} to ${groupThousands(seen.most)}`;
  if (isMost(seen.integers)) return value({ kind: 'integer' }, span, all - seen.integers);
  const numbers = seen.integers + seen.decimals;
  if (isMost(numbers)) return value({ kind: 'decimal' }, span, all - numbers);
  if (isTable && isMost(seen.numberTexts)) {
    const isWhole = [...seen.values.done().counts.keys()].every((text) => !/^-?\d+\.\d+$/u.test(text));
    return value({ kind: isWhole ? 'integer' : 'decimal' }, span, all - seen.numberTexts);
  }
  if (isMost(seen.texts)) return textOf(name, seen, learning);
  const parts = [
    [seen.texts, 'text'],
    [numbers, 'number'],
    [seen.booleans, 'boolean'],
    [seen.objects, 'object'],
    [seen.others, 'list in lists'],
  ] as const;
  return value(
    { kind: 'json' },
    parts.flatMap(([number, what]) => (number > 0 ? [count(number, what)] : [])).join(', '),
  );
}

/* ── texts ───────────────────────────────────────────────────────────────────────────────────────────────────── */

/** Texts with what was counted of them. */
interface Texts {
  readonly name: string;
  readonly seen: Seen;
  readonly learning: Learning;
  readonly counts: ReadonlyMap<string, number>;
  readonly different: number;
  /** Whether all different ones are in the counts, each as often as it stands. */
  readonly isExact: boolean;
  /** Whether so many are all but the odd ones. */
  readonly isMost: (number: number) => boolean;
}

/** What texts can be, the strictest first; nothing where they are not. */
const readings: readonly ((texts: Texts) => Value | undefined)[] = [writtenSo, assets, slugs, references, vocabulary];

function textOf(name: string, seen: Seen, learning: Learning): Value {
  const values = seen.values.done();
  const { count: different, isExact } = distinctOf(values);
  const told = [...values.counts.values()].reduce((sum, times) => sum + times, 0);
  const texts: Texts = {
    name,
    seen,
    learning,
    counts: values.counts,
    different,
    isExact: isExact && told === seen.texts,
    isMost: (number) => number >= (1 - learning.tolerated) * seen.texts,
  };
  for (const reading of readings) {
    const found = reading(texts);
    if (found) return found;
  }
  return proseOf(texts);
}

function writtenSo({ seen, isMost }: Texts): Value | undefined {
  const kind = writtenKinds.find((one) => isMost(seen.written.get(one) ?? 0));
  if (!kind) return undefined;
  const fitting = seen.written.get(kind) ?? 0;
  return value(
    { kind },
    `${groupThousands(fitting)} of ${groupThousands(seen.texts)} are written so`,
    seen.count - fitting,
  );
}

function assets({ seen, learning, counts, isExact }: Texts): Value | undefined {
  const isAll = isExact && counts.size > 0 && [...counts.keys()].every(learning.isAsset);
  return isAll ? value({ kind: 'asset' }, 'all are files below assets', seen.count - seen.texts) : undefined;
}

function slugs({ name, seen, different, isMost }: Texts): Value | undefined {
  const isOwn = isMost(seen.ownIds);
  if (!isMost(seen.slugs) || !(isOwn || (name === 'slug' && different === seen.texts))) return undefined;
  return value(
    { kind: 'slug' },
    isOwn ? 'it is the identifier of its entry' : 'all different',
    seen.count - seen.slugs,
  );
}

function references(texts: Texts): Value | undefined {
  const { seen, learning } = texts;
  const { ids, tolerated } = learning;
  // Very many different ones are told by some of them.
  const counts = texts.isExact ? texts.counts : countsOf(seen.some);
  const all = texts.isExact ? seen.texts : seen.some.length;
  const isMost = (number: number): boolean => number >= (1 - tolerated) * all;
  const { types, hits } = ids.typed(counts);
  const [only = ''] = types;
  const of = `${groupThousands(all)}${texts.isExact ? '' : ' looked at'}`;
  if (hits > 0 && isMost(hits))
    return value(
      { kind: 'reference', to: types.length === 1 ? only : [...types] },
      `${groupThousands(hits)} of ${of} name entries of ${list(types)}`,
      texts.isExact ? seen.count - hits : 0,
    );
  // What names the entry that it stands in points at nothing.
  const target = seen.ownIds * 2 > seen.texts ? undefined : ids.target(counts);
  if (!target || target.hits < fewest || !isMost(target.hits)) return undefined;
  return value(
    { kind: 'reference', to: target.type },
    `${groupThousands(target.hits)} of ${of} are identifiers of ${target.type}`,
    texts.isExact ? seen.count - target.hits : 0,
  );
}

function countsOf(texts: readonly string[]): ReadonlyMap<string, number> {
  const counts = new Map<string, number>();
  for (const text of texts) counts.set(text, (counts.get(text) ?? 0) + 1);
  return counts;
}

function vocabulary({ name, seen, learning, counts, different, isExact }: Texts): Value | undefined {
  const { texts, lists, lines, longest } = seen;
  const isOne = isExact && texts >= enough && texts >= often * different && longest <= shortChoice && lines === 0;
  if (!isOne || ![...counts.keys()].every(isId)) return undefined;
  const members = byFrequency(counts);
  const against = seen.count - texts;
  if (different <= mostChoices && lists === 0)
    return value(
      { kind: 'choice', choices: [...members] },
      `only ${different === 1 ? 'one' : `${different} different ones`}: ${listSome(
        members.map((one) => quote(one, 20)),
        4,
      )}`,
      against,
    );
  const taxonomy = different <= mostTerms ? learning.classify(name, members) : undefined;
  if (taxonomy === undefined) return undefined;
  return value(
    { kind: 'term', taxonomy },
    `${different} different ones, each some ${groupThousands(Math.round(texts / different))} times`,
    against,
  );
}

const byFrequency = (counts: ReadonlyMap<string, number>): readonly string[] =>
  [...counts].toSorted(([a, x], [b, y]) => y - x || (a < b ? -1 : 1)).map(([text]) => text);

/** Texts that are nothing but texts. */
function proseOf({ seen, counts, different, isExact }: Texts): Value {
  const { texts, longest, lines, marked } = seen;
  const against = seen.count - texts;
  const long = `up to ${groupThousands(longest)} characters`;
  if (marked * 4 >= texts && lines > 0)
    return value({ kind: 'markdown' }, `${groupThousands(marked)} have the signs of Markdown`, against);
  if (lines > 0 || longest > 300)
    return value({ kind: 'longText' }, lines > 0 ? `${groupThousands(lines)} have several lines` : long, against);
  const isCode =
    isExact && different === texts && texts >= 2 * enough && [...counts.keys()].every((text) => !/\s/u.test(text));
  return value(
    compact({ kind: 'text', max: roundUp(longest), unique: isCode || undefined }),
    isCode ? `${long}, all different` : long,
    against,
  );
}

/** A limit with some room above what is there. */
function roundUp(longest: number): number {
  for (let power = 10; ; power *= 10)
    for (const step of [1, 1.5, 2, 3, 4, 6, 8]) if (step * power >= 1.1 * longest) return step * power;
}

/* ── objects ─────────────────────────────────────────────────────────────────────────────────────────────────── */

function objectOf(seen: Seen, learning: Learning): Value {
  const keys = [...seen.inside.keys()];
  const against = seen.count - seen.objects;
  const localized = keys.length > 0 && keys.every(learning.isLanguage) ? localizedOf(seen, keys, learning) : undefined;
  if (localized) return localized;
  if (isPoint(seen)) return value({ kind: 'point' }, 'a latitude and a longitude', against);
  if (keys.length === 0) return value({ kind: 'json' }, `${count(seen.objects, 'object')} without a key`, against);
  if (seen.any !== undefined || !keys.every(isFieldWord) || hasKeysOfData(seen)) return mapOf(seen, learning);
  if (keys.every((key) => key === 'file' || key === 'alt') && isOfAssets(seen.inside.get('file'), learning))
    return value({ kind: 'asset' }, 'all are files below assets', against);
  const { example } = seen.inside.get('type') ?? {};
  if (keys.length === 2 && keys.includes('children') && example?.value === 'root')
    return value({ kind: 'richText', ...linksOf(seen, learning) }, 'all are trees of text', against);
  // A key that came late has places in the objects before it.
  const fields = [...seen.inside].map(([key, one]) => {
    one.holders = Math.max(one.holders, seen.objects);
    return learnField(key, one, learning);
  });
  return value({ kind: 'object' }, `${count(seen.objects, 'object')} with the same keys`, against, fields);
}

/** How far a point can be from the equator, and from the meridian, in degrees. */
const degrees = new Map([
  ['lat', 90],
  ['lon', 180],
]);

/** Whether all objects are a latitude and a longitude, and no more. */
const isPoint = ({ inside, objects }: Seen): boolean =>
  inside.size === degrees.size &&
  [...inside].every(([key, { count: times, integers, decimals, least, most }]) => {
    const limit = degrees.get(key) ?? Number.NEGATIVE_INFINITY;
    return times === objects && integers + decimals === times && least >= -limit && most <= limit;
  });

/** So many keys, each in so few of the objects, are data where what stands under them is alike. */
const [manyKeys, seldom] = [12, 0.5];

function hasKeysOfData({ inside, objects }: Seen): boolean {
  const all = [...inside.values()];
  if (all.length < manyKeys || all.some((one) => one.filled > seldom * objects)) return false;
  const forms = new Set(all.map((one) => (one.lists > 0 ? 'list' : formOf(one))));
  return forms.size === 1;
}

/** What most values in a place are. */
function formOf({ texts, integers, decimals, booleans, objects }: Seen): string {
  const forms = { text: texts, number: integers + decimals, boolean: booleans, object: objects };
  return Object.entries(forms).toSorted(([, a], [, b]) => b - a)[0]?.[0] ?? '';
}

/** A group whose keys are data: what stands under all of them together. */
function mapOf(seen: Seen, learning: Learning): Value {
  const keys = seen.inside.size + (seen.any ? 1 : 0);
  const together = new Seen();
  for (const one of [...seen.inside.values(), ...(seen.any ? [seen.any] : [])]) together.take(one);
  // Each key stands where it stands: nothing can be missing under it.
  together.holders = together.filled;
  const inner = learnField('value', together, { ...learning, classify: () => undefined });
  const { required: _, ...says } = valueDoc(withoutSlugs(inner));
  const against = seen.count - seen.objects;
  const why = `${count(seen.objects, 'object')} whose keys are data, ${seen.any ? 'more than ' : ''}${keys} of them`;
  // What holds nothing that is known is any JSON.
  return says.kind === 'json' && says.many === undefined
    ? value({ kind: 'json' }, why, against)
    : value({ kind: 'map', keys: { kind: 'text' }, value: says }, why, against);
}

/** A field that is made from nothing, with those inside it: what looks like a slug there is a text of that form. */
export function withoutSlugs({ says: { kind, ...says }, fields, ...field }: LearntField): LearntField {
  const form = kind === 'slug' ? { kind: 'text', pattern: slugPattern } : { kind };
  return { ...field, says: compact({ ...form, ...says }), fields: fields.map(withoutSlugs) };
}

/** What a field says, with the fields inside it. */
export const valueDoc = ({ says, fields }: LearntField): JsonObject =>
  fields.length === 0 ? says : { ...says, fields: Object.fromEntries(fields.map((one) => [one.name, valueDoc(one)])) };

/** The types of entries that structured texts lead to, and that stand in them. */
function linksOf(seen: Seen, { ids }: Learning): JsonObject {
  const typesOf = (key: string, before: string): readonly string[] => {
    const named = textsUnder(seen, key).filter((text) => text.startsWith(before));
    return ids.typed(new Map(named.map((text) => [text.slice(before.length), 1]))).types;
  };
  const [led, embedded] = [typesOf('url', 'entry:'), typesOf('entry', '')];
  return compact({
    links: led.length > 0 ? { entries: [...led] } : undefined,
    embeds: embedded.length > 0 ? [...embedded] : undefined,
  });
}

/** The texts under a key, however deep inside objects and lists it stands. */
const textsUnder = (seen: Seen, key: string): readonly string[] =>
  [...seen.inside].flatMap(([name, one]) => [
    ...(name === key ? one.values.done().counts.keys() : []),
    ...textsUnder(one, key),
  ]);

/** Whether all texts are names of files that entries can show. */
const isOfAssets = (seen: Seen | undefined, { isAsset }: Learning): boolean =>
  seen !== undefined && seen.texts > 0 && [...seen.values.done().counts.keys()].every(isAsset);

/**
 * Values that differ by language: of one kind in all of them, the longest of each. Nothing where they are of several, or
 * lists.
 */
function localizedOf(seen: Seen, languages: readonly string[], learning: Learning): Value | undefined {
  const all = [...seen.inside.values()].filter((one) => one.count > 0);
  if (seen.any || seen.lists > 0 || all.length === 0 || all.some((one) => one.lists > 0)) return undefined;
  const inner = all.map((one) => singleOf('', one, { ...learning, classify: () => undefined }));
  const kinds = new Set(inner.map(({ says }) => (isPlainText(says.kind) ? 'text' : says.kind)));
  const [first] = inner;
  const isOfParts =
    ['object', 'map', 'json'].some((kind) => kinds.has(kind)) || inner.some(({ says }) => says.localized);
  if (!first || kinds.size > 1 || isOfParts) return undefined;
  learning.speak(languages);
  const longest = Math.max(...all.map((one) => one.longest));
  const isLong = inner.some(({ says }) => says.kind === 'longText' || says.kind === 'markdown');
  const text = isLong ? { kind: 'longText' } : { kind: 'text', max: roundUp(longest) };
  const against = inner.reduce((sum, one) => sum + one.against, seen.count - seen.objects);
  const says = kinds.has('text') ? text : { kind: String(first.says.kind) };
  return value({ ...says, localized: true }, `in ${listSome(languages, 5)}; ${first.why}`, against);
}

/** Kinds that are texts whatever else they are: of some languages one, of others another. */
const isPlainText = (kind: unknown): boolean =>
  ['text', 'longText', 'markdown', 'choice', 'slug', 'reference', 'asset'].includes(String(kind));
