import { isName, slugPattern } from '../definition/address.ts';
import { type BuiltIn, type FactKeys, factsByKey, statedKeys, statuses } from '../definition/builtIn.ts';
import type { Entry } from '../entry/entry.ts';
import { isOfWords, isYesOrNo } from '../kinds/traits.ts';
import { compact } from '../plain/json.ts';
import { slugsOf } from '../plain/slugify.ts';
import { count, groupThousands, humanize } from '../plain/words.ts';
import { DefinitionNames } from './definitionNames.ts';
import type { EntryStatistics, TypeStatistics } from './entryStatistics.ts';
import type { FieldStatistics } from './fieldStatistics.ts';
import type { Condition } from './gates.ts';
import { recurringFields } from './kits.ts';
import { languageOf, textsIn } from './language.ts';
import { learnField, withoutSlugs } from './learnField.ts';
import type { LearningContext, LearntModel, LearntType, Refused } from './learntModel.ts';
import { titleOf } from './titleOf.ts';
import type { Learning, LearntField } from './value.ts';

/** What entries can have of themselves beside what tells which they are. */
const facts = ['status', 'created', 'changed', 'publicFrom', 'publicUntil'] as const;

/**
 * The model that entries obey.
 * @param tolerated so large a share of values may be otherwise without making the model looser.
 */
export function learnModel(
  { types: seenTypes, ids }: Pick<EntryStatistics, 'types' | 'ids'>,
  tolerated: number,
  { factKeys, isAsset, answers = new Map(), keys = new Map() }: LearningContext,
): LearntModel {
  const refused: Refused[] = [];
  const languages = new Map<string, number>();
  const taxonomies = new Map<string, Classified>();
  const noFacts = facts.filter((fact) => !isFact(fact, factKeys[fact], [...seenTypes.values()]));
  const keptKeys = keysKept(factKeys, noFacts);
  const names = new DefinitionNames();
  const fit = [...seenTypes].filter(([name]) => names.take(name));
  const fitTypes = new Set(fit.map(([name]) => name));
  const fitIds = ids.among(fitTypes);
  const types = fit.map(([name, seenType]) => {
    const learning: Learning = {
      tolerated,
      isTable: seenType.isTable,
      ids: fitIds,
      isLanguage,
      isAsset,
      speak: (some) => {
        for (const language of some) languages.set(language, (languages.get(language) ?? 0) + 1);
      },
      above: `${name}.`,
      said: answers,
      refuse: (address, kind, can) => {
        refused.push({ address, kind, can });
      },
      taxonomyOf: (field) => (taxonomies.has(field) || names.isFree(field) ? field : undefined),
      classify: (taxonomy, address, terms) => {
        names.take(taxonomy);
        const existing = taxonomies.get(taxonomy) ?? { terms: new Set(), fields: [] };
        taxonomies.set(taxonomy, existing);
        for (const term of terms) existing.terms.add(term);
        existing.fields.push(address);
      },
    };
    return learnType(name, seenType, { learning, keptKeys, labels: keys });
  });

  return {
    ...spokenLanguages(languages, [...seenTypes.values()]),
    types,
    taxonomies: [...taxonomies].map(([name, { terms, fields }]) => ({ name, terms: [...terms], fields })),
    kits: recurringFields(types, names),
    builtIn: { ...statedKeys(factKeys), ...Object.fromEntries(noFacts.map((fact) => [fact, false] as const)) },
    unfit: [...seenTypes.keys()].filter((name) => !fitTypes.has(name)),
    refused,
  };
}

/** The terms of a taxonomy, and the fields that are classified by it. */
interface Classified {
  readonly terms: Set<string>;
  readonly fields: string[];
}

/** The keys that hold what every entry has, but for facts that are fields here. */
const keysKept = (factKeys: FactKeys, noFacts: readonly BuiltIn[]): ReadonlySet<string> =>
  new Set([...factsByKey(factKeys)].flatMap(([key, fact]) => (noFacts.includes(fact) ? [] : [key])));

/** The languages of a workspace: those that values are kept by, the most frequent first, or the one of the texts. */
function spokenLanguages(
  counts: ReadonlyMap<string, number>,
  types: readonly TypeStatistics[],
): Pick<LearntModel, 'languages' | 'languagesBecause'> {
  if (counts.size === 0) return languageOf(types.flatMap(textsOf));
  const languages = [...counts].toSorted(([, a], [, b]) => b - a).map(([language]) => language);
  return { languages, languagesBecause: 'Values are kept by these languages.' };
}

/** Texts of entries of a type, those below the front matter too. */
const textsOf = ({ sample }: TypeStatistics): readonly string[] =>
  sample.flatMap(({ values, prose = '' }) => [prose, ...textsIn(values)]);

/** Whether the values of a key fit a built-in fact; also without values. */
function isFact(fact: (typeof facts)[number], key: string | undefined, types: readonly TypeStatistics[]): boolean {
  return types.every(({ keys }) => {
    const statistics = key === undefined ? undefined : keys.get(key);
    if (!statistics) return true;

    const { written, counts } = statistics.text;
    if (fact !== 'status') return (written.get('dateTime') ?? 0) + (written.get('date') ?? 0) >= statistics.count;
    return (
      statistics.texts === statistics.count &&
      [...(counts?.keys() ?? [''])].every((count) => statuses.some((status) => status === count))
    );
  });
}

/**
 * Those of `type` and `id` that hold what names no type and no entry, so often that it is not odd.
 * @param tolerated so large a share of values may be otherwise.
 */
export function factsOtherwise(
  { types }: Pick<EntryStatistics, 'types'>,
  tolerated: number,
  factKeys: FactKeys,
): readonly ('id' | 'type')[] {
  const isOtherwise = (fact: 'id' | 'type'): boolean => {
    const facts = [...types].flatMap(([name, { keys }]) => {
      const statistics = keys.get(factKeys[fact] ?? '');
      if (!statistics) return [];
      return [{ name, one: statistics }];
    });
    const total = facts.reduce((sum, { one: statistics }) => sum + statistics.filled, 0);
    const naming = facts.reduce((sum, { name, one: statistics }) => sum + namingIn(fact, name, statistics), 0);
    return total - naming > tolerated * total;
  };

  return (['id', 'type'] as const).filter(isOtherwise);
}

/** How many values under a key name a type or an entry. @param type the type that their entries have. */
export function namingIn(
  fact: 'id' | 'type',
  type: string,
  { texts, integers, decimals, lists }: FieldStatistics,
): number {
  if (lists > 0 || (fact === 'type' && !isName(type))) return 0;
  return texts + (fact === 'id' ? integers + decimals : 0);
}

interface TypeLearning {
  readonly learning: Learning;
  /** The keys that hold what every entry has. */
  readonly keptKeys: ReadonlySet<string>;
  /** What fields are called in the entries, where no field can be called so. */
  readonly labels: ReadonlyMap<string, string>;
}

function learnType(
  name: string,
  { entries, keys, lists, prose, gates, sample }: TypeStatistics,
  { learning, keptKeys, labels }: TypeLearning,
): LearntType {
  const fields = [...keys]
    .filter(([key]) => key !== '$schema' && !keptKeys.has(key))
    .map(([key, statistics]) => {
      // A key that came late has places in the entries before it.
      const read = asListed(statistics, lists.get(key));
      read.holders = entries;
      return learnField(key, read, learning);
    });
  const titled = titleOf(fields, sample);
  const deciding = fields.filter(decides).map(({ name, definition }) => ({ name, isBoolean: isYesOrNo(definition) }));

  const conditioned = (field: LearntField): LearntField => {
    if (field.name === titled || field.definition.mayBeEmpty === true) return field;
    return underCondition(field, gates.conditionOf(field.name, deciding, learning.tolerated));
  };

  return {
    name,
    entries,
    titled,
    fields: [
      ...fields.map((field) => labelled(conditioned(slugFrom(field, titled, sample)), labels.get(field.name))),
      ...bodyOf(prose, { entries, names: new Set(keys.keys()) }),
    ],
  };
}

/** A field that is called otherwise in the entries, as people know it. */
function labelled(field: LearntField, key: string | undefined): LearntField {
  const label = key?.trim() ?? '';
  if (label === '' || label.toLowerCase() === humanize(field.name).toLowerCase()) return field;
  return { ...field, definition: { label, ...field.definition } };
}

/** Whether others may depend on a field: every entry has one of few words there, or a yes or no. */
const decides = ({ definition }: LearntField): boolean =>
  definition.required === true &&
  definition.many === undefined &&
  definition.localized === undefined &&
  (isOfWords(definition) || isYesOrNo(definition));

/** A field that entries have just where another one of theirs says so. */
function underCondition(field: LearntField, condition: Condition | undefined): LearntField {
  if (!condition || field.definition.required === true) return field;

  const { when, meet, elsewhere, against } = condition;

  return {
    ...field,
    definition: { ...field.definition, when, required: true },
    evidence: `${field.evidence}; it stands where ${when}: in ${groupThousands(meet)} entries, and not in the ${groupThousands(elsewhere)} others`,
    against: field.against + against,
    // Where it has to be is reported by the condition.
    questions: field.questions.filter(({ about }) => about !== 'required'),
  };
}

/** A share of cells that hold several items makes all of them lists; items are short. */
const [manyShare, shortItem] = [0.1, 60];

/** Statistics of cells: as lists where enough of them are some. */
function asListed(statistics: FieldStatistics, lists: FieldStatistics | undefined): FieldStatistics {
  if (!lists || lists.items.most < 2 || lists.text.longest > shortItem || areClauses(lists)) return statistics;
  if (lists.count - lists.filled >= Math.max(1, manyShare * lists.filled)) return lists;
  return statistics;
}

/** An item of more words is a part of a sentence; so are all where so large a share is, and few stand again. */
const [itemWords, clauseShare] = [3, 0.5];

/** Whether the parts between separators are clauses: `Bring boots; the path is wet`. */
function areClauses({ text: { counts, some }, texts }: FieldStatistics): boolean {
  const items = counts ? [...counts.keys()] : some;
  const long = items.filter((item) => item.trim().split(/\s+/u).length > itemWords);
  return long.length >= clauseShare * items.length && (counts === undefined || 2 * counts.size > texts);
}

/** A text that is made from what names the entry, as slugs are; one that is made from nothing is a text. */
function slugFrom(field: LearntField, titled: string | undefined, sample: readonly Entry[]): LearntField {
  const { kind, many, max: _, unique: __, ...rest } = field.definition;
  if (many !== undefined || (kind !== 'text' && kind !== 'slug')) return withoutSlugs(field);

  const pairs = sample.flatMap(({ values }) => {
    const [slug, title] = [values[field.name], titled === undefined ? undefined : values[titled]];
    if (typeof slug === 'string' && typeof title === 'string') return [[slug, slugsOf(title)] as const];
    return [];
  });
  const matching = pairs.filter(([slug, from]) => from.includes(slug)).length;
  const isMade = field.name !== titled && pairs.length >= fewPairs && matching >= madeShare * pairs.length;
  if (!isMade)
    return kind === 'slug'
      ? { ...field, definition: { kind: 'text', pattern: slugPattern, unique: true, ...rest } }
      : field;
  return {
    ...field,
    definition: { kind: 'slug', from: titled ?? '', ...rest },
    evidence: `${field.evidence}; ${matching} of ${count(pairs.length, 'entry', 'entries')} have it from ${titled}`,
  };
}

/** So many entries tell what a slug is made from, and so many of them do. */
const [fewPairs, madeShare] = [5, 0.9];

/** The text below the front matter of Markdown files. */
function bodyOf(
  prose: FieldStatistics,
  { entries, names }: { readonly entries: number; readonly names: ReadonlySet<string> },
): readonly LearntField[] {
  if (prose.filled === 0) return [];

  const name = ['text', 'body', 'prose', 'content'].find((candidate) => !names.has(candidate)) ?? 'textBelow';

  return [
    {
      name,
      definition: compact({ kind: 'markdown', body: true, required: prose.filled === entries ? true : undefined }),
      evidence: `${groupThousands(prose.filled)} of ${count(entries, 'file')} have text below the front matter`,
      against: 0,
      fields: [],
      questions: [],
    },
  ];
}

/** Two letters, or three, with a country or a script: what keys of values in several languages look like. */
function isLanguage(key: string): boolean {
  if (!/^[a-z]{2,3}(?:-[A-Z][a-z]{3})?(?:-[A-Z]{2})?$/u.test(key)) return false;
  const name = new Intl.DisplayNames(['en'], { type: 'language' }).of(key);
  return name !== undefined && name !== key;
}
