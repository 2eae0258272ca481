import { builtInKeys, builtInUnder } from '../definition/builtIn.ts';
import type { Json, JsonObject } from '../plain/json.ts';
import type { SeenEntries, SeenType } from './entryStatistics.ts';
import type { Seen } from './fieldStatistics.ts';
import { type LearntModel, type LearntType, namingIn } from './learnModel.ts';
import type { WrittenKind } from './textStatistics.ts';
import type { LearntField } from './value.ts';

/**
 * Whether what was counted proves that entries obey the model that was learnt from them, so that nobody need look at each of
 * them again. It says so only of what is counted exactly: of what it cannot tell, such as values by language, it says no, and
 * a check has to.
 */
export function isProven(model: LearntModel, seen: SeenEntries): boolean {
  if (model.unfit.length > 0) return false;
  const terms = new Map(model.taxonomies.map((one) => [one.name, new Set(one.terms)]));
  return model.types.every((type) => {
    const one = seen.types.get(type.name);
    return one !== undefined && seen.ids.areInOrder(type.name) && obeys(type, one, terms);
  });
}

type Terms = ReadonlyMap<string, ReadonlySet<string>>;

function obeys({ name, fields }: LearntType, { keys, prose }: SeenType, terms: Terms): boolean {
  if (prose.holders > 0) return false;
  const named = new Map(fields.map((field) => [field.name, field]));
  return [...keys].every(([key, seen]) => {
    const field = named.get(key);
    if (field) return areProven(field, seen, { terms, isUnique: true });
    if (key === builtInKeys().status) return isPublished(seen);
    const fact = builtInUnder(key);
    return (fact === 'id' || fact === 'type') && namingIn(fact, name, seen) === seen.filled;
  });
}

/** Whether all that say what becomes of them are published: a draft could be pointed at by one that is. */
const isPublished = ({ holders, filled, text }: Seen): boolean =>
  holders === filled && text.counts?.get('published') === filled;

interface Around {
  readonly terms: Terms;
  /** Whether values that differ in all entries can be proven: those of a whole field. */
  readonly isUnique: boolean;
}

/** Whether all values in a place obey its field. */
function areProven(field: LearntField, seen: Seen, around: Around): boolean {
  const { says, against } = field;
  const { many, required, mayBeEmpty, unique } = says;
  if (against > 0 || says.localized !== undefined || says.when !== undefined || mayBeEmpty !== undefined) return false;
  if (required !== undefined && seen.filled < seen.holders) return false;
  if ((many === undefined && seen.lists > 0) || !areAsMany(many, seen)) return false;
  if (seen.text.placeholders > 0) return false;
  const differ = unique !== undefined || says.kind === 'slug';
  if (differ && (!around.isUnique || many !== undefined || !seen.text.areDifferent())) return false;
  return kinds[String(says.kind)]?.(seen, field, around) === true;
}

function areAsMany(many: Json | undefined, { singles, items }: Seen): boolean {
  const {
    max = Number.POSITIVE_INFINITY,
    orOne,
    ...others
  } = (many === true ? {} : (many ?? { orOne: true })) as {
    readonly max?: number;
    readonly orOne?: boolean;
  };
  return Object.keys(others).length === 0 && items.most <= max && (orOne === true || singles === 0);
}

type Proof = (seen: Seen, field: LearntField, around: Around) => boolean;

const isWritten: Proof = ({ text, count }, { says }) => text.written.get(says.kind as WrittenKind) === count;

/** Whether texts are no longer than their field allows, which says nothing else of them. */
const areShort = ({ text, texts, count }: Seen, { max = Number.POSITIVE_INFINITY, pattern }: JsonObject): boolean =>
  texts === count && text.longest <= Number(max) && pattern === undefined;

const areFinite = ({ numbers }: Seen): boolean => Number.isFinite(numbers.least) && Number.isFinite(numbers.most);

/** When values of a kind are proven to be right; of others nobody can tell. */
const kinds: Readonly<Record<string, Proof>> = {
  boolean: ({ booleans, count }) => booleans === count,
  integer: ({ integers, count }) => integers === count,
  decimal: (seen) => seen.integers + seen.decimals === seen.count && areFinite(seen),
  text: (seen, { says }) => areShort(seen, says) && seen.text.lines === 0,
  longText: (seen, { says }) => areShort(seen, says),
  slug: ({ text, texts, count }) => texts === count && text.slugs === count,
  choice: (seen, { says }) => areAmong(seen, new Set([says.choices].flat().map(String))),
  term: (seen, { says }, { terms }) => areAmong(seen, terms.get(String(says.taxonomy)) ?? new Set()),
  // Those that point at nothing were counted, unless some alone were looked at.
  reference: ({ text, texts, count }) => texts === count && (text.counts ?? text.hashes) !== undefined,
  object: (seen, { fields }, { terms }) => {
    const named = new Map(fields.map((field) => [field.name, field]));
    return (
      seen.objects === seen.count &&
      seen.any === undefined &&
      [...seen.inside].every(([key, one]) => {
        const field = named.get(key);
        return field !== undefined && areProven(field, one, { terms, isUnique: false });
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

const areAmong = ({ text, texts, count }: Seen, allowed: ReadonlySet<string>): boolean =>
  texts === count && text.counts !== undefined && [...text.counts.keys()].every((one) => allowed.has(one));
