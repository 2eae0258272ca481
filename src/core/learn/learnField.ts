import { isFieldWord, slugPattern } from '../definition/address.ts';
import { isFreeText, isLine, isOfWords, isReference } from '../kinds/traits.ts';
import { compact, type Json, type JsonObject } from '../plain/json.ts';
import { count, groupThousands, listSome, quote, rangeOf } from '../plain/words.ts';
import { kindAsked, requiredAsked } from './fieldQuestions.ts';
import { FieldStatistics } from './fieldStatistics.ts';
import { hasKeysOfData, holdsAlike, isPoint } from './keysOfData.ts';
import { booleansOf, isWhole, mixed, numbersOf, plainNumbers, writtenNumbers } from './plainValues.ts';
import { enough, fewest, textsAs } from './readTexts.ts';
import { textOf } from './textDoubts.ts';
import { writtenKinds } from './textStatistics.ts';
import { type Learning, type LearntField, roundUp, type Value, value } from './value.ts';

/** What values in a place say of the field that they are of. */
export function learnField(name: string, statistics: FieldStatistics, learning: Learning): LearntField {
  const { tolerated, above } = learning;
  const address = above === undefined ? undefined : above + name;
  const saidOfField = address === undefined ? undefined : learning.said.get(address);
  const inside = { ...learning, above: address === undefined ? undefined : `${address}.` };
  const single =
    (saidOfField?.kind !== undefined && singleAs(saidOfField.kind, name, statistics, inside)) ||
    singleOf(name, statistics, inside);
  if (address !== undefined && saidOfField?.kind !== undefined && saidOfField.kind !== single.definition.kind)
    learning.refuse(address, saidOfField.kind, kindsOf(name, statistics, inside));
  const { definition, against, reason, fields, terms } = single;
  if (terms && address !== undefined) learning.classify(String(definition.taxonomy), address, terms);
  const missing = statistics.holders - statistics.filled;
  const mayLack = isTop(definition, learning) || statistics.holders < 5 * enough ? 0 : tolerated * statistics.holders;
  const seemsRequired = statistics.filled >= fewest && missing <= mayLack;
  const isRequired = saidOfField?.isRequired ?? seemsRequired;
  const isNothingElse = statistics.filled === 0 && statistics.emptyLists > 0;
  const isMany = isNothingElse || statistics.lists > tolerated * statistics.filled || isAlsoSeveral(statistics, single);
  const isEnough = statistics.filled + statistics.emptyLists >= fewest;
  // A list that is there in every entry, and empty in some.
  const isAlwaysList =
    isMany && !isRequired && isEnough && statistics.filled + statistics.emptyLists === statistics.holders;
  const isAlwaysText = !isMany && isAlwaysThere(statistics, definition);
  const isAlsoOne = isMany && statistics.singles > tolerated * statistics.filled;
  const oddForm = isMany ? 0 : statistics.lists;
  const common = {
    ...(isRequired || isAlwaysList || isAlwaysText ? { required: true } : {}),
    ...(isAlwaysList || isAlwaysText ? { mayBeEmpty: true } : {}),
    ...(isMany ? { many: isAlsoOne ? { orOne: true } : manyOf(statistics) } : {}),
  };

  return {
    name,
    definition: { ...definition, ...common },
    evidence: evidenceOf(statistics, { isMany, isAlwaysList, isAlwaysText }, { reason, exceptions: against + oddForm }),
    against: against + oddForm + (isRequired ? missing : 0),
    fields,
    questions:
      address === undefined
        ? []
        : [
            ...(saidOfField?.kind === undefined ? kindAsked(single, common) : []),
            ...(saidOfField?.isRequired === undefined && !isAlwaysList && !isAlwaysText
              ? requiredAsked(statistics, isRequired)
              : []),
          ].map((question) => ({ ...question, words: fewWords(statistics) })),
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
  statistics: FieldStatistics,
  { isMany, isAlwaysList, isAlwaysText }: There,
  { reason, exceptions }: { readonly reason: string; readonly exceptions: number },
): string {
  return [
    `${groupThousands(statistics.filled)} of ${groupThousands(statistics.holders)} have one`,
    ...(isAlwaysList ? [`${groupThousands(statistics.emptyLists)} an empty list`] : []),
    ...(isAlwaysText ? [`${groupThousands(statistics.emptyTexts)} an empty text`] : []),
    ...(isMany && statistics.lists > 0
      ? [`lists of ${rangeOf(statistics.items.least, statistics.items.most, 'item')}`]
      : []),
    reason,
    statistics.example === undefined ? '' : `such as ${quote(statistics.example, 40)}`,
    exceptions > 0 ? `${count(exceptions, 'value is', 'values are')} otherwise` : '',
  ]
    .filter(Boolean)
    .join('; ');
}

/** Of more different texts none is kept. */
const mostWords = 100;

/** The different texts in a place, where they are few. */
const fewWords = ({ text: { counts = new Map() } }: FieldStatistics): readonly string[] => {
  if (counts.size <= mostWords) return [...counts.keys()];
  return [];
};

/** Whether a text is there in every entry, and empty in several of them, or in all. */
const isAlwaysThere = ({ holders, filled, emptyTexts }: FieldStatistics, definition: JsonObject): boolean =>
  isFreeText(definition) && emptyTexts >= fewest && filled + emptyTexts === holders;

/** Whether there are lists, be they so few that they could be odd, of the same words as are alone: then several may be there. */
const isAlsoSeveral = ({ lists, items }: FieldStatistics, { definition, against }: Value): boolean =>
  lists > 0 && items.most > 1 && against === 0 && (isOfWords(definition) || isReference(definition));

/** Whether values lead to entries of the own type: a value at the top leads nowhere, and is no exception. */
const isTop = (definition: JsonObject, { above }: Learning): boolean =>
  isReference(definition) && above !== undefined && [definition.to].flat().some((type) => `${type}.` === above);

const manyOf = ({ items }: FieldStatistics): Json => {
  if (items.most <= 1) return true;
  return { max: roundUp(items.most) };
};

/** What single values are, by what most of them are. */
function singleOf(name: string, statistics: FieldStatistics, learning: Learning): Value {
  const { tolerated, isTable } = learning;
  const total = statistics.count;
  const isMost = (number: number): boolean => total > 0 && number >= (1 - tolerated) * total;
  if (total === 0) return value({ kind: 'text' }, 'nothing tells of which kind it is');
  if (isMost(statistics.objects)) return objectOf(statistics, learning);
  if (isMost(statistics.booleans) || (isTable && isMost(statistics.text.booleans)))
    return booleansOf(statistics, isTable);
  if (isMost(statistics.integers + statistics.decimals))
    return plainNumbers(statistics, isMost(statistics.integers), isTable);
  if (isTable && isMost(statistics.text.numbers)) return writtenNumbers(name, statistics, learning);
  if (isMost(statistics.texts)) return textOf(name, statistics, learning);
  return mixed(name, statistics, learning);
}

/** Values taken for such of one kind, however many of them are none; nothing where not one is. */
function singleAs(kind: string, name: string, statistics: FieldStatistics, learning: Learning): Value | undefined {
  switch (kind) {
    case 'json':
      return value({ kind }, 'as you said');
    case 'boolean':
      if (statistics.booleans + statistics.text.booleans > 0) return booleansOf(statistics, learning.isTable);
      return undefined;
    case 'integer':
      if (statistics.integers + (isWhole(statistics) ? statistics.text.numbers : 0) > 0)
        return numbersOf(kind, statistics, learning.isTable);
      return undefined;
    case 'decimal':
      if (statistics.integers + statistics.decimals + statistics.text.numbers > 0)
        return numbersOf(kind, statistics, learning.isTable);
      return undefined;
    case 'map':
      if (statistics.objects > 0) return mapOf(statistics, learning);
      return undefined;
    default:
      return textsAs(kind, name, statistics, learning);
  }
}

/** The kinds that values can be of where a person says so. */
const kindsOf = (name: string, statistics: FieldStatistics, learning: Learning): readonly string[] =>
  sayable.filter((kind) => singleAs(kind, name, statistics, learning) !== undefined);

const sayable = [
  ...(['text', 'longText', 'markdown', 'choice', 'term', 'reference', 'asset'] as const),
  ...(['integer', 'decimal', 'boolean', 'map', 'json'] as const),
  ...writtenKinds,
];

/* ── objects ─────────────────────────────────────────────────────────────────────────────────────────────────── */

function objectOf(statistics: FieldStatistics, learning: Learning): Value {
  const keys = [...statistics.inside.keys()];
  const against = statistics.count - statistics.objects;
  const localized =
    keys.length > 0 && keys.every(learning.isLanguage) ? localizedOf(statistics, keys, learning) : undefined;
  if (localized) return localized;
  if (isPoint(statistics)) return value({ kind: 'point' }, 'a latitude and a longitude', against);
  if (keys.length === 0)
    return value({ kind: 'json' }, `${count(statistics.objects, 'object')} without a key`, against);
  if (
    statistics.any !== undefined ||
    !keys.every(isFieldWord) ||
    hasKeysOfData(statistics) ||
    holdsAlike(statistics, learning)
  )
    return mapOf(statistics, learning);
  if (keys.every((key) => key === 'file' || key === 'alt') && isOfAssets(statistics.inside.get('file'), learning))
    return value({ kind: 'asset' }, 'all are files below assets', against);

  const { example } = statistics.inside.get('type') ?? {};
  if (keys.length === 2 && keys.includes('children') && example === 'root')
    return value({ kind: 'richText', ...linksOf(statistics, learning) }, 'all are trees of text', against);

  // A key that came late has places in the objects before it.
  for (const fieldStatistics of statistics.inside.values())
    fieldStatistics.holders = Math.max(fieldStatistics.holders, statistics.objects);
  const fields = [...statistics.inside].map(([key, fieldStatistics]) => learnField(key, fieldStatistics, learning));

  return value({ kind: 'object' }, `${count(statistics.objects, 'object')} with the same keys`, against, fields);
}

/** Learning without addresses: no statements, no questions, no terms. */
const aside = (learning: Learning): Learning => ({ ...learning, above: undefined, taxonomyOf: () => undefined });

/** A group whose keys are data: the value under all of them together. */
function mapOf(statistics: FieldStatistics, learning: Learning): Value {
  const keys = statistics.inside.size + (statistics.any ? 1 : 0);
  const together = new FieldStatistics();
  for (const fieldStatistics of [...statistics.inside.values(), ...(statistics.any ? [statistics.any] : [])])
    together.take(fieldStatistics.gathered());
  // Each key is where it stands: nothing can be missing under it.
  together.holders = together.filled;
  const inner = learnField('value', together, aside(learning));
  const { required: _, ...rest } = valueDoc(withoutSlugs(inner));
  const against = statistics.count - statistics.objects;
  const reason = `${count(statistics.objects, 'object')} whose keys are data, ${statistics.any ? 'more than ' : ''}${keys} of them`;

  // A value without known parts is any JSON.
  if (rest.kind === 'json' && rest.many === undefined) return value({ kind: 'json' }, reason, against);
  return value({ kind: 'map', keys: { kind: 'text' }, value: rest }, reason, against);
}

/** A field that is made from nothing, with those inside it: what looks like a slug there is a text of that form. */
export function withoutSlugs({ definition: { kind, ...rest }, fields, ...field }: LearntField): LearntField {
  const form = kind === 'slug' ? { kind: 'text', pattern: slugPattern } : { kind };
  return { ...field, definition: compact({ ...form, ...rest }), fields: fields.map(withoutSlugs) };
}

/** What a field says, with the fields inside it. */
export const valueDoc = ({ definition, fields }: LearntField): JsonObject => {
  if (fields.length === 0) return definition;
  return { ...definition, fields: Object.fromEntries(fields.map((field) => [field.name, valueDoc(field)])) };
};

/** The types of entries that structured texts lead to, and that are in them. */
function linksOf(statistics: FieldStatistics, { ids }: Learning): JsonObject {
  const typesOf = (key: string, before: string): readonly string[] => {
    const named = textsUnder(statistics, key).filter((text) => text.startsWith(before));
    return ids.typed(new Map(named.map((text) => [text.slice(before.length), 1]))).types;
  };

  const [led, embedded] = [typesOf('url', 'entry:'), typesOf('entry', '')];
  return compact({
    links: led.length > 0 ? { entries: [...led] } : undefined,
    embeds: embedded.length > 0 ? [...embedded] : undefined,
  });
}

/** The texts under a key, however deep inside objects and lists it stands. */
const textsUnder = (statistics: FieldStatistics, key: string): readonly string[] =>
  [...statistics.inside].flatMap(([name, fieldStatistics]) => [
    ...(name === key ? (fieldStatistics.text.counts?.keys() ?? fieldStatistics.text.some) : []),
    ...textsUnder(fieldStatistics, key),
  ]);

/** Whether all texts are names of files that entries can show. */
const isOfAssets = (statistics: FieldStatistics | undefined, { isAsset }: Learning): boolean =>
  statistics !== undefined &&
  statistics.texts > 0 &&
  [...(statistics.text.counts?.keys() ?? statistics.text.some)].every(isAsset);

/**
 * Values that differ by language: of one kind in all of them, the longest of each. Nothing where they are of several, or
 * lists.
 */
function localizedOf(statistics: FieldStatistics, languages: readonly string[], learning: Learning): Value | undefined {
  const versions = [...statistics.inside.values()].filter((fieldStatistics) => fieldStatistics.count > 0);
  if (
    statistics.any ||
    statistics.lists > 0 ||
    versions.length === 0 ||
    versions.some((fieldStatistics) => fieldStatistics.lists > 0)
  )
    return undefined;

  const inner = versions.map((fieldStatistics) => singleOf('', fieldStatistics, aside(learning)));
  const kinds = new Set(inner.map(({ definition: object }) => (isPlainText(object.kind) ? 'text' : object.kind)));
  const [first] = inner;
  const isOfParts =
    ['object', 'map', 'json'].some((kind) => kinds.has(kind)) ||
    inner.some(({ definition: object }) => object.localized);
  if (!first || kinds.size > 1 || isOfParts) return undefined;

  learning.speak(languages);
  const longest = Math.max(...versions.map((fieldStatistics) => fieldStatistics.text.longest));
  const isLong = inner.some(({ definition: object }) => isFreeText(object) && !isLine(object));
  const text = isLong ? { kind: 'longText' } : { kind: 'text', max: roundUp(longest) };
  const against = inner.reduce((sum, value) => sum + value.against, statistics.count - statistics.objects);
  const definition = kinds.has('text') ? text : { kind: String(first.definition.kind) };

  return value({ ...definition, localized: true }, `in ${listSome(languages, 5)}; ${first.reason}`, against);
}

/** Kinds that are texts whatever else they are: of some languages one, of others another. */
const isPlainText = (kind: unknown): boolean =>
  ['text', 'longText', 'markdown', 'choice', 'slug', 'reference', 'asset'].includes(String(kind));
