import { type FactKeys, factsByKey } from '../definition/builtIn.ts';
import { isUnique } from '../kinds/traits.ts';
import type { Json, JsonObject } from '../plain/json.ts';
import type { EntryStatistics, TypeStatistics } from './entryStatistics.ts';
import type { FieldStatistics } from './fieldStatistics.ts';
import { namingIn } from './learnModel.ts';
import type { LearntModel, LearntType } from './learntModel.ts';
import type { WrittenKind } from './textStatistics.ts';
import type { LearntField } from './value.ts';

/**
 * Whether the counts prove that all entries obey the learnt model, so that nobody need look at each of
 * them again. Only exact counts prove it: values by language, for example, do not, and
 * a check has to.
 */
export function isProven(model: LearntModel, seenEntries: EntryStatistics, factKeys: FactKeys): boolean {
  if (model.unfit.length > 0) return false;
  const terms = new Map(model.taxonomies.map((taxonomy) => [taxonomy.name, new Set(taxonomy.terms)]));
  return model.types.every((type) => {
    const statistics = seenEntries.types.get(type.name);
    return (
      statistics !== undefined && seenEntries.ids.areInOrder(type.name) && obeys(type, statistics, { terms, factKeys })
    );
  });
}

type Terms = ReadonlyMap<string, ReadonlySet<string>>;

function obeys(
  { name, fields }: LearntType,
  { keys, prose }: TypeStatistics,
  { terms, factKeys }: { readonly terms: Terms; readonly factKeys: FactKeys },
): boolean {
  if (prose.holders > 0) return false;

  const named = new Map(fields.map((field) => [field.name, field]));
  return [...keys].every(([key, statistics]) => {
    const field = named.get(key);
    if (field) return areProven(field, statistics, { terms, isUnique: true });
    const fact = factsByKey(factKeys).get(key);
    if (fact === 'status') return isPublished(statistics);
    return (fact === 'id' || fact === 'type') && namingIn(fact, name, statistics) === statistics.filled;
  });
}

/** Whether all entries with a status are published: a draft could be pointed at by one that is. */
const isPublished = ({ holders, filled, text }: FieldStatistics): boolean =>
  holders === filled && text.counts?.get('published') === filled;

interface ProofContext {
  readonly terms: Terms;
  /** Whether values that differ in all entries can be proven: those of a whole field. */
  readonly isUnique: boolean;
}

/** Whether all values in a place obey its field. */
function areProven(field: LearntField, statistics: FieldStatistics, around: ProofContext): boolean {
  const { definition, against } = field;
  const { many, required, mayBeEmpty, unique } = definition;
  if (against > 0 || definition.localized !== undefined || definition.when !== undefined || mayBeEmpty !== undefined)
    return false;
  if (required !== undefined && statistics.filled < statistics.holders) return false;
  if ((many === undefined && statistics.lists > 0) || !areAsMany(many, statistics)) return false;
  if (statistics.text.placeholders > 0) return false;

  const differ = unique !== undefined || isUnique(definition);
  if (differ && (!around.isUnique || many !== undefined || !statistics.text.areDifferent())) return false;
  return kinds[String(definition.kind)]?.(statistics, field, around) === true;
}

function areAsMany(many: Json | undefined, { singles, items }: FieldStatistics): boolean {
  const {
    max = Number.POSITIVE_INFINITY,
    orOne,
    ...rest
  } = (many === true ? {} : (many ?? { orOne: true })) as {
    readonly max?: number;
    readonly orOne?: boolean;
  };
  return Object.keys(rest).length === 0 && items.most <= max && (orOne === true || singles === 0);
}

type Proof = (statistics: FieldStatistics, field: LearntField, around: ProofContext) => boolean;

const isWritten: Proof = ({ text, count }, { definition }) =>
  text.written.get(definition.kind as WrittenKind) === count;

/** Whether texts are no longer than their field allows, without other options. */
const areShort = (
  { text, texts, count }: FieldStatistics,
  { max = Number.POSITIVE_INFINITY, pattern }: JsonObject,
): boolean => texts === count && text.longest <= Number(max) && pattern === undefined;

const areFinite = ({ numbers }: FieldStatistics): boolean =>
  Number.isFinite(numbers.least) && Number.isFinite(numbers.most);

/** When values of a kind are proven to be right; of others nobody can tell. */
const kinds: Readonly<Record<string, Proof>> = {
  boolean: ({ booleans, count }) => booleans === count,
  integer: ({ integers, count }) => integers === count,
  decimal: (statistics) => statistics.integers + statistics.decimals === statistics.count && areFinite(statistics),
  text: (statistics, { definition }) => areShort(statistics, definition) && statistics.text.lines === 0,
  longText: (statistics, { definition }) => areShort(statistics, definition),
  slug: ({ text, texts, count }) => texts === count && text.slugs === count,
  choice: (statistics, { definition }) => areAmong(statistics, new Set([definition.choices].flat().map(String))),
  term: (statistics, { definition }, { terms }) =>
    areAmong(statistics, terms.get(String(definition.taxonomy)) ?? new Set()),
  // Those that point at nothing were counted, unless some alone were looked at.
  reference: ({ text, texts, count }) => texts === count && (text.counts ?? text.hashes) !== undefined,
  object: (statistics, { fields }, { terms }) => {
    const named = new Map(fields.map((field) => [field.name, field]));
    return (
      statistics.objects === statistics.count &&
      statistics.any === undefined &&
      [...statistics.inside].every(([key, fieldStatistics]) => {
        const field = named.get(key);
        return field !== undefined && areProven(field, fieldStatistics, { terms, isUnique: false });
      })
    );
  },
  dateTime: isWritten,
  date: isWritten,
  time: isWritten,
  duration: isWritten,
  email: isWritten,
  webAddress: isWritten,
  colour: isWritten,
};

const areAmong = ({ text, texts, count }: FieldStatistics, allowed: ReadonlySet<string>): boolean =>
  texts === count && text.counts !== undefined && [...text.counts.keys()].every((count) => allowed.has(count));
