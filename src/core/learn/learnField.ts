import { isFieldWord, slugPattern } from '../definition/address.ts';
import { compact, type Json, type JsonObject } from '../plain/json.ts';
import { count, groupThousands, listSome, quote, rangeOf } from '../plain/words.ts';
import { Seen } from './fieldStatistics.ts';
import { enough, fewest, textsAs } from './readTexts.ts';
import { textOf } from './textDoubts.ts';
import { writtenKinds } from './textStatistics.ts';
import { type Learning, type LearntField, type OpenQuestion, roundUp, type Value, value } from './value.ts';

/** What values in a place say of the field that they are of. */
export function learnField(name: string, seen: Seen, learning: Learning): LearntField {
  const { tolerated, above } = learning;
  const address = above === undefined ? undefined : above + name;
  const said = address === undefined ? undefined : learning.said.get(address);
  const inside = { ...learning, above: address === undefined ? undefined : `${address}.` };
  const single = (said?.kind !== undefined && singleAs(said.kind, name, seen, inside)) || singleOf(name, seen, inside);
  if (address !== undefined && said?.kind !== undefined && said.kind !== single.says.kind)
    learning.refuse(address, said.kind, kindsOf(name, seen, inside));
  const { says, against, why, fields, terms } = single;
  if (terms && address !== undefined) learning.classify(String(says.taxonomy), address, terms);
  const missing = seen.holders - seen.filled;
  const mayLack = isTop(says, learning) || seen.holders < 5 * enough ? 0 : tolerated * seen.holders;
  const seemsRequired = seen.filled >= fewest && missing <= mayLack;
  const isRequired = said?.isRequired ?? seemsRequired;
  const isNothingElse = seen.filled === 0 && seen.emptyLists > 0;
  const isMany = isNothingElse || seen.lists > tolerated * seen.filled || isAlsoSeveral(seen, single);
  const isEnough = seen.filled + seen.emptyLists >= fewest;
  // A list that is there in every entry, and empty in some.
  const isAlwaysList = isMany && !isRequired && isEnough && seen.filled + seen.emptyLists === seen.holders;
  const isAlwaysText = !isMany && isAlwaysThere(seen, says);
  const isAlsoOne = isMany && seen.singles > tolerated * seen.filled;
  const oddForm = isMany ? 0 : seen.lists;
  const common = {
    ...(isRequired || isAlwaysList || isAlwaysText ? { required: true } : {}),
    ...(isAlwaysList || isAlwaysText ? { mayBeEmpty: true } : {}),
    ...(isMany ? { many: isAlsoOne ? { orOne: true } : manyOf(seen) } : {}),
  };
  return {
    name,
    says: { ...says, ...common },
    evidence: evidenceOf(seen, { isMany, isAlwaysList, isAlwaysText }, { why, odd: against + oddForm }),
    against: against + oddForm + (isRequired ? missing : 0),
    fields,
    questions:
      address === undefined
        ? []
        : [
            ...(said?.kind === undefined ? kindAsked(single, common) : []),
            ...(said?.isRequired === undefined && !isAlwaysList && !isAlwaysText
              ? requiredAsked(seen, isRequired)
              : []),
          ].map((one) => ({ ...one, words: fewWords(seen) })),
  };
}

/** How a field is there in the entries of a type. */
interface There {
  readonly isMany: boolean;
  readonly isAlwaysList: boolean;
  readonly isAlwaysText: boolean;
}

/** What speaks for a guess, and how many values are otherwise, as a line. */
function evidenceOf(
  seen: Seen,
  { isMany, isAlwaysList, isAlwaysText }: There,
  { why, odd }: { readonly why: string; readonly odd: number },
): string {
  return [
    `${groupThousands(seen.filled)} of ${groupThousands(seen.holders)} have one`,
    ...(isAlwaysList ? [`${groupThousands(seen.emptyLists)} an empty list`] : []),
    ...(isAlwaysText ? [`${groupThousands(seen.emptyTexts)} an empty text`] : []),
    ...(isMany && seen.lists > 0 ? [`lists of ${rangeOf(seen.items.least, seen.items.most, 'item')}`] : []),
    why,
    seen.example === undefined ? '' : `such as ${quote(seen.example, 40)}`,
    odd > 0 ? `${count(odd, 'value is', 'values are')} otherwise` : '',
  ]
    .filter(Boolean)
    .join('; ');
}

/** Of more different texts none is kept. */
const mostWords = 100;

/** The different texts in a place, where they are few. */
const fewWords = ({ text: { counts = new Map() } }: Seen): readonly string[] =>
  counts.size <= mostWords ? [...counts.keys()] : [];

/** Whether a text is there in every entry, and empty in several of them, or in all. */
const isAlwaysThere = ({ holders, filled, emptyTexts }: Seen, { kind }: JsonObject): boolean =>
  ['text', 'longText', 'markdown'].includes(String(kind)) && emptyTexts >= fewest && filled + emptyTexts === holders;

/** Whether there are lists, be they so few that they could be odd, of the same words as stand alone: then several may stand there. */
const isAlsoSeveral = ({ lists, items }: Seen, { says, against }: Value): boolean =>
  lists > 0 && items.most > 1 && against === 0 && ['choice', 'term', 'reference'].includes(String(says.kind));

/** Whether values lead to entries of the own type: what stands above all others leads nowhere, and is not odd. */
const isTop = ({ kind, to }: JsonObject, { above }: Learning): boolean =>
  kind === 'reference' && above !== undefined && [to].flat().some((type) => `${type}.` === above);

/** A question before it is known which texts it is about. */
type WordlessQuestion = Omit<OpenQuestion, 'words'>;

/** Whether values may be of another kind than they are taken for. @param common what the field says of any kind. */
function kindAsked({ says, why, doubt }: Value, common: JsonObject): readonly WordlessQuestion[] {
  if (!doubt) return [];
  const answerOf = (one: Pick<Value, 'says' | 'why'>) => ({
    as: String(one.says.kind),
    says: { ...one.says, ...common },
    why: one.why,
  });
  return [{ about: 'kind', asks: doubt.asks, answers: [answerOf({ says, why }), ...doubt.others.map(answerOf)] }];
}

/** Where so few lack a value, all may have to have one. */
const fewLack = 0.1;

/** Whether what nearly all have is asked of all. */
function requiredAsked({ holders, filled }: Seen, isRequired: boolean): readonly WordlessQuestion[] {
  const missing = holders - filled;
  if (holders < enough || missing === 0 || missing > fewLack * holders) return [];
  const required = { as: 'required', why: `the ${groupThousands(missing)} without one are mistakes` };
  const optional = { as: 'optional', why: 'there need not be one' };
  const asks = `${groupThousands(missing)} of ${groupThousands(holders)} have none: must every one have one?`;
  return [{ about: 'required', asks, answers: isRequired ? [required, optional] : [optional, required] }];
}

const manyOf = ({ items }: Seen): Json => (items.most <= 1 ? true : { max: roundUp(items.most) });

/** What single values are, by what most of them are. */
function singleOf(name: string, seen: Seen, learning: Learning): Value {
  const { tolerated, isTable } = learning;
  const all = seen.count;
  const isMost = (number: number): boolean => all > 0 && number >= (1 - tolerated) * all;
  if (all === 0) return value({ kind: 'text' }, 'nothing tells of which kind it is');
  if (isMost(seen.objects)) return objectOf(seen, learning);
  if (isMost(seen.booleans) || (isTable && isMost(seen.text.booleans))) return booleansOf(seen, isTable);
  if (isMost(seen.integers + seen.decimals)) return plainNumbers(seen, isMost(seen.integers), isTable);
  if (isTable && isMost(seen.text.numbers)) return writtenNumbers(name, seen, learning);
  if (isMost(seen.texts)) return textOf(name, seen, learning);
  return mixed(name, seen, learning);
}

const booleansOf = (seen: Seen, isTable: boolean): Value =>
  value({ kind: 'boolean' }, 'true or false', seen.count - seen.booleans - (isTable ? seen.text.booleans : 0));

/** In a table texts stand for numbers. */
function numbersOf(kind: 'integer' | 'decimal', seen: Seen, isTable: boolean): Value {
  const fitting = seen.integers + (kind === 'decimal' ? seen.decimals : 0) + (isTable ? seen.text.numbers : 0);
  const least = Math.min(seen.numbers.least, isTable ? seen.text.least : Number.POSITIVE_INFINITY);
  const most = Math.max(seen.numbers.most, isTable ? seen.text.most : Number.NEGATIVE_INFINITY);
  return value({ kind }, `${groupThousands(least)} to ${groupThousands(most)}`, seen.count - fitting);
}

/** Numbers as JSON has them. One with a fraction says that others may have one, be they so few that they could be odd. */
function plainNumbers(seen: Seen, isMostlyWhole: boolean, isTable: boolean): Value {
  const whole = numbersOf('integer', seen, isTable);
  if (seen.decimals === 0) return whole;
  const all = numbersOf('decimal', seen, isTable);
  const asks = areMistakes(seen.decimals, 'not whole');
  return isMostlyWhole ? { ...all, doubt: { asks, others: [whole] } } : all;
}

/** Texts that are numbers, in a table. Where all have three digits behind the point, that may part thousands. */
function writtenNumbers(name: string, seen: Seen, learning: Learning): Value {
  const numbers = numbersOf(isWhole(seen) ? 'integer' : 'decimal', seen, learning.isTable);
  const { thousandths, numbers: all } = seen.text;
  const other = thousandths === all ? textsAs('text', name, seen, learning) : undefined;
  return other
    ? {
        ...numbers,
        doubt: { asks: 'Does the point part thousands there, so that they are no such numbers?', others: [other] },
      }
    : numbers;
}

const isWhole = ({ text }: Seen): boolean => text.fractions === 0;

/** Values of several forms, of which none is that of nearly all. */
function mixed(name: string, seen: Seen, learning: Learning): Value {
  const parts = [
    [seen.texts, 'text'],
    [seen.integers + seen.decimals, 'number'],
    [seen.booleans, 'boolean'],
    [seen.objects, 'object'],
    [seen.others, 'list in lists'],
  ] as const;
  const why = parts.flatMap(([number, what]) => (number > 0 ? [count(number, what)] : [])).join(', ');
  const all = value({ kind: 'json' }, why);
  const [most = 0, form] = parts.toSorted(([a], [b]) => b - a)[0] ?? [];
  const usual = 2 * most >= seen.count ? inForm(form, name, seen, learning) : undefined;
  const asks = areMistakes(seen.count - most, 'otherwise');
  return usual ? { ...all, doubt: { asks, others: [usual] } } : all;
}

const areMistakes = (odd: number, how: string): string =>
  odd === 1 ? `Is the one that is ${how} a mistake?` : `Are the ${groupThousands(odd)} that are ${how} mistakes?`;

/** Values that have one form, taken for all. */
function inForm(form: string | undefined, name: string, seen: Seen, learning: Learning): Value | undefined {
  switch (form) {
    case 'text': {
      const { doubt: _, ...texts } = textOf(name, seen, learning);
      // What a slug is made from cannot be told of them.
      return texts.says.kind === 'slug' ? textsAs('text', name, seen, learning) : texts;
    }
    case 'number':
      return numbersOf(seen.decimals > 0 ? 'decimal' : 'integer', seen, learning.isTable);
    case 'boolean':
      return booleansOf(seen, learning.isTable);
    default:
      return undefined;
  }
}

/** Values taken for such of one kind, however many of them are none; nothing where not one is. */
function singleAs(kind: string, name: string, seen: Seen, learning: Learning): Value | undefined {
  switch (kind) {
    case 'json':
      return value({ kind }, 'as you said');
    case 'boolean':
      return seen.booleans + seen.text.booleans > 0 ? booleansOf(seen, learning.isTable) : undefined;
    case 'integer':
      return seen.integers + (isWhole(seen) ? seen.text.numbers : 0) > 0
        ? numbersOf(kind, seen, learning.isTable)
        : undefined;
    case 'decimal':
      return seen.integers + seen.decimals + seen.text.numbers > 0
        ? numbersOf(kind, seen, learning.isTable)
        : undefined;
    case 'map':
      return seen.objects > 0 ? mapOf(seen, learning) : undefined;
    default:
      return textsAs(kind, name, seen, learning);
  }
}

/** The kinds that values can be of where a person says so. */
const kindsOf = (name: string, seen: Seen, learning: Learning): readonly string[] =>
  sayable.filter((kind) => singleAs(kind, name, seen, learning) !== undefined);

const sayable = [
  ...(['text', 'longText', 'markdown', 'choice', 'term', 'reference', 'asset'] as const),
  ...(['integer', 'decimal', 'boolean', 'map', 'json'] as const),
  ...writtenKinds,
];

/* ── objects ─────────────────────────────────────────────────────────────────────────────────────────────────── */

function objectOf(seen: Seen, learning: Learning): Value {
  const keys = [...seen.inside.keys()];
  const against = seen.count - seen.objects;
  const localized = keys.length > 0 && keys.every(learning.isLanguage) ? localizedOf(seen, keys, learning) : undefined;
  if (localized) return localized;
  if (isPoint(seen)) return value({ kind: 'point' }, 'a latitude and a longitude', against);
  if (keys.length === 0) return value({ kind: 'json' }, `${count(seen.objects, 'object')} without a key`, against);
  if (seen.any !== undefined || !keys.every(isFieldWord) || hasKeysOfData(seen) || holdsAlike(seen, learning))
    return mapOf(seen, learning);
  if (keys.every((key) => key === 'file' || key === 'alt') && isOfAssets(seen.inside.get('file'), learning))
    return value({ kind: 'asset' }, 'all are files below assets', against);
  const { example } = seen.inside.get('type') ?? {};
  if (keys.length === 2 && keys.includes('children') && example === 'root')
    return value({ kind: 'richText', ...linksOf(seen, learning) }, 'all are trees of text', against);
  // A key that came late has places in the objects before it.
  for (const one of seen.inside.values()) one.holders = Math.max(one.holders, seen.objects);
  const fields = [...seen.inside].map(([key, one]) => learnField(key, one, learning));
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
  [...inside].every(([key, { count: times, integers, decimals, numbers }]) => {
    const limit = degrees.get(key) ?? Number.NEGATIVE_INFINITY;
    return times === objects && integers + decimals === times && numbers.least >= -limit && numbers.most <= limit;
  });

/** So many keys, each in so few of the objects, are data where what stands under them is alike. */
const [manyKeys, seldom] = [12, 0.5];

function hasKeysOfData({ inside, objects }: Seen): boolean {
  const all = [...inside.values()];
  if (all.length < manyKeys || all.some((one) => one.filled > seldom * objects)) return false;
  const forms = new Set(all.map((one) => (one.lists > 0 ? 'list' : formOf(one))));
  return forms.size === 1;
}

/** So many keys that hold objects of one form are data. */
const manyAlike = 3;

/** Whether under each key stands an object with the same keys as under the others: `{ eng: { f, m }, fra: { f, m } }`. */
function holdsAlike({ inside }: Seen, { isLanguage }: Learning): boolean {
  const all = [...inside.values()].filter((one) => one.filled > 0);
  if (all.length < (([...inside.keys()].every(isLanguage) && 2) || manyAlike)) return false;
  const [first] = all;
  const keys = [...(first?.inside.keys() ?? [])];
  return (
    keys.length > 1 &&
    all.every(
      (one) =>
        one.lists === 0 &&
        one.objects === one.count &&
        one.any === undefined &&
        one.inside.size === keys.length &&
        keys.every((key) => one.inside.has(key)),
    )
  );
}

/** What most values in a place are. */
function formOf({ texts, integers, decimals, booleans, objects }: Seen): string {
  const forms = { text: texts, number: integers + decimals, boolean: booleans, object: objects };
  return Object.entries(forms).toSorted(([, a], [, b]) => b - a)[0]?.[0] ?? '';
}

/** What stands where no field has an address: nothing is said or asked of it, and nothing is a term. */
const aside = (learning: Learning): Learning => ({ ...learning, above: undefined, taxonomyOf: () => undefined });

/** A group whose keys are data: what stands under all of them together. */
function mapOf(seen: Seen, learning: Learning): Value {
  const keys = seen.inside.size + (seen.any ? 1 : 0);
  const together = new Seen();
  for (const one of [...seen.inside.values(), ...(seen.any ? [seen.any] : [])]) together.take(one.gathered());
  // Each key stands where it stands: nothing can be missing under it.
  together.holders = together.filled;
  const inner = learnField('value', together, aside(learning));
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
    ...(name === key ? (one.text.counts?.keys() ?? one.text.some) : []),
    ...textsUnder(one, key),
  ]);

/** Whether all texts are names of files that entries can show. */
const isOfAssets = (seen: Seen | undefined, { isAsset }: Learning): boolean =>
  seen !== undefined && seen.texts > 0 && [...(seen.text.counts?.keys() ?? seen.text.some)].every(isAsset);

/**
 * Values that differ by language: of one kind in all of them, the longest of each. Nothing where they are of several, or
 * lists.
 */
function localizedOf(seen: Seen, languages: readonly string[], learning: Learning): Value | undefined {
  const all = [...seen.inside.values()].filter((one) => one.count > 0);
  if (seen.any || seen.lists > 0 || all.length === 0 || all.some((one) => one.lists > 0)) return undefined;
  const inner = all.map((one) => singleOf('', one, aside(learning)));
  const kinds = new Set(inner.map(({ says }) => (isPlainText(says.kind) ? 'text' : says.kind)));
  const [first] = inner;
  const isOfParts =
    ['object', 'map', 'json'].some((kind) => kinds.has(kind)) || inner.some(({ says }) => says.localized);
  if (!first || kinds.size > 1 || isOfParts) return undefined;
  learning.speak(languages);
  const longest = Math.max(...all.map((one) => one.text.longest));
  const isLong = inner.some(({ says }) => says.kind === 'longText' || says.kind === 'markdown');
  const text = isLong ? { kind: 'longText' } : { kind: 'text', max: roundUp(longest) };
  const against = inner.reduce((sum, one) => sum + one.against, seen.count - seen.objects);
  const says = kinds.has('text') ? text : { kind: String(first.says.kind) };
  return value({ ...says, localized: true }, `in ${listSome(languages, 5)}; ${first.why}`, against);
}

/** Kinds that are texts whatever else they are: of some languages one, of others another. */
const isPlainText = (kind: unknown): boolean =>
  ['text', 'longText', 'markdown', 'choice', 'slug', 'reference', 'asset'].includes(String(kind));
