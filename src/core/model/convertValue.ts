import type { Status } from '../definition/builtIn.ts';
import { isRequiredOf } from '../definition/field.ts';
import type { Converted, ModelContext } from '../kinds/define.ts';
import { kinds } from '../kinds/index.ts';
import { isList, isObject, type Json } from '../plain/json.ts';
import { hasStyles } from '../writing/readings.ts';
import type { ReadText } from '../writing/style.ts';
import { isNone } from './emptiness.ts';
import type { Field } from './link.ts';
import { type Separator, splitItems } from './separators.ts';
import { kindConverter, mayBeWritten } from './writtenTexts.ts';

/** What becomes of a whole value on its way to another definition of its field. */
export interface ConversionOutcome {
  /** What can be carried; `undefined` where nothing is left. */
  readonly value: Json | undefined;
  readonly lost: readonly { readonly item: Json; readonly why: string }[];
}

/** What is done on the way of a value from one definition to another. */
export interface Carrying {
  /** What stands between the items of a text that becomes a list. */
  readonly separator?: Separator | undefined;
  /** What is put between the items of a list that becomes one text. */
  readonly joint?: string | undefined;
  /** The field inside an object that a value becomes, or that is kept of the object. */
  readonly inside?: string | undefined;
  /** Reads a text as a value, beside what the kinds do: see `textReader`. */
  readonly read?: ReadText | undefined;
  /** The reference that a text stands for, or the text that a reference stands for; or why it is none. */
  readonly find?: ((text: string) => Converted) | undefined;
}

/**
 * Compiles how values get from one definition of a field to another: by kind, from one to many and back, and from one
 * language to several and back. What does not differ by language becomes the main language's value.
 * @param by what is done beside what the kinds do.
 */
export function converter(
  was: Field,
  is: Field,
  context: ModelContext,
  by: Carrying = {},
): (value: Json) => ConversionOutcome {
  const parted = by.inside === undefined ? undefined : partConverter(was, is, context, by.inside);
  if (parted) return parted;
  const carry = converterInOneLanguage(was, is, context, by);
  const [main = 'en'] = context.languages;
  return (value) => {
    const versions =
      was.common.localized && isObject(value)
        ? Object.entries(value).filter(([, one]) => !isNone(was, one))
        : ([[main, value]] as const);
    const outcomes = versions.map(([language, one]) => ({ language, ...carry(one) }));
    const lost = outcomes.flatMap((outcome) => outcome.lost);
    if (is.common.localized) {
      const carried = outcomes.flatMap(({ language, value: one }) =>
        one === undefined ? [] : [[language, one] as const],
      );
      return { value: carried.length > 0 ? Object.fromEntries(carried) : undefined, lost };
    }
    const kept = outcomes.find(({ language }) => language === main);
    const others = outcomes
      .filter((outcome) => outcome !== kept)
      .flatMap(({ value: one, language }) =>
        one === undefined ? [] : [{ item: one, why: `the field has one value, and ${main} is kept, not ${language}` }],
      );
    return { value: kept?.value, lost: [...lost, ...others] };
  };
}

function converterInOneLanguage(
  was: Field,
  is: Field,
  context: ModelContext,
  { separator, joint, find, read }: Carrying,
): (value: Json) => ConversionOutcome {
  const isSameKind = was.kind.name === is.kind.name;
  const convert = kindConverter(was, is, context);
  if (!isSameKind && !convert && !find && !read)
    return (value) => ({
      value: undefined,
      lost: [{ item: value, why: `${was.kind.name} cannot become ${is.kind.name}` }],
    });
  const convertItem = (item: Json): Converted => {
    if (typeof item === 'string' && find) return find(item);
    const readValue = typeof item === 'string' ? read?.(item) : undefined;
    if (readValue !== undefined) return { value: readValue };
    if (convert) return convert(item);
    const same = is.kind.rewritten?.(item, was.options, is.options) ?? item;
    return isSameKind ? { value: same } : { problem: `${was.kind.name} cannot become ${is.kind.name}` };
  };
  const isListed = was.common.many === undefined && is.common.many !== undefined;
  return (value) => {
    // An empty text is no item of a list.
    if (isListed && value === '') return { value: is.common.mayBeEmpty ? [] : undefined, lost: [] };
    const lost: { item: Json; why: string }[] = [];
    const carried = splitItems(value, separator).flatMap((item) => {
      const result = convertItem(item);
      if ('value' in result) {
        if (result.partly !== undefined) lost.push({ item, why: result.partly });
        return [result.value];
      }
      lost.push({ item, why: result.problem });
      return [];
    });
    if (joint !== undefined && !is.common.many && carried.length > 1)
      return { value: carried.map(String).join(joint), lost };
    return held(carried, is, isList(value), lost);
  };
}

/** What a field holds of several values. @param wasList whether they stood in a list. */
function held(
  values: readonly Json[],
  { kind, common: { many } }: Field,
  wasList: boolean,
  lost: ConversionOutcome['lost'],
): ConversionOutcome {
  const [first, ...others] = values;
  // Two words for one term leave it there once.
  const listed = kind.term ? [...new Set(values)] : values;
  if (many && (wasList || !many.orOne)) return { value: listed.length > 0 ? [...listed] : undefined, lost };
  const left = others.map((item) => ({ item, why: 'the field holds one value, and the first is kept' }));
  return { value: first, lost: [...lost, ...left] };
}

/** Compiles how values become a field inside objects, or are what one inside objects was; nothing where neither is so. */
function partConverter(
  was: Field,
  is: Field,
  context: ModelContext,
  inside: string,
): ((value: Json) => ConversionOutcome) | undefined {
  const [into, outOf] = [partIn(is, inside), partIn(was, inside)];
  if (holdsParts(is) && !holdsParts(was) && into && !is.common.localized)
    return intoObjects(was, is, { inside, part: into, context });
  if (holdsParts(was) && !holdsParts(is) && outOf && !was.common.localized)
    return outOfObjects(was, is, { inside, part: outOf, context });
  return undefined;
}

const holdsParts = ({ kind }: Field): boolean => kind.nests || kind.maps;

/** The field of which a value stands under a key: inside an object, or in a map, in which all keys have the same. */
const partIn = ({ kind, fields }: Field, key: string): Field | undefined => fields.get(kind.maps ? 'value' : key);

interface Part {
  readonly inside: string;
  readonly part: Field;
  readonly context: ModelContext;
}

function intoObjects(was: Field, is: Field, { inside, part, context }: Part): (value: Json) => ConversionOutcome {
  // Of a list each becomes an object of its own, where there may be several.
  const isEach = was.common.many !== undefined && is.common.many !== undefined && !was.common.localized;
  const carry = converter(isEach ? alone(was) : was, part, context);
  return (value) => {
    const outcomes = (isEach && isList(value) ? value : [value]).map(carry);
    const objects = outcomes.flatMap(({ value: one }) => (one === undefined ? [] : [{ [inside]: one }]));
    return held(
      objects,
      is,
      isEach && isList(value),
      outcomes.flatMap(({ lost }) => lost),
    );
  };
}

function outOfObjects(was: Field, is: Field, { inside, part, context }: Part): (value: Json) => ConversionOutcome {
  const isWhole = was.common.many === undefined || part.common.many !== undefined;
  // Several make a list in one language.
  const isListed = !isWhole && is.common.many !== undefined;
  const carry = converter(part, isListed ? inOneLanguage(alone(is)) : is, context);
  const [main = 'en'] = context.languages;
  return (value) => {
    const outcomes = (isList(value) ? value : [value]).filter(isObject).map((object) => {
      const { [inside]: kept, ...others } = object;
      const isMore = Object.entries(others).some(([key, one]) => {
        const other = was.fields.get(key);
        return other === undefined || !isNone(other, one);
      });
      const lost = isMore ? [{ item: object, why: `only \`${inside}\` of it is kept` }] : [];
      const carried = kept === undefined || kept === null ? undefined : carry(kept);
      return { value: carried?.value, lost: [...lost, ...(carried?.lost ?? [])] };
    });
    const lost = outcomes.flatMap((one) => one.lost);
    const values = outcomes.flatMap(({ value: one }) => (one === undefined ? [] : [one]));
    // Where one object alone holds it, or each a list, it is what the field holds.
    if (isWhole && !isList(value)) return { value: values[0], lost };
    const all = held(isWhole ? values.flat() : values, is, isList(value), lost);
    const isByLanguage = isListed && is.common.localized && all.value !== undefined;
    return isByLanguage ? { value: { [main]: all.value ?? null }, lost: all.lost } : all;
  };
}

/** The field as it were in one language. */
function inOneLanguage(field: Field): Field {
  const { localized: _, ...common } = field.common;
  return { ...field, common };
}

/** The field as it were with one value. */
function alone(field: Field): Field {
  const { many: _, ...common } = field.common;
  return { ...field, common };
}

/** Whether values of one kind can be carried over to another, as far as they fit there. */
export const canBecome = (from: string, to: string): boolean =>
  from === to ||
  from === 'json' ||
  kinds.get(to)?.from[from] !== undefined ||
  (mayBeWritten(from, to) && hasStyles({ kind: to, options: {}, languages: ['en'] }));

/** Whether a field asks an entry of some status for a value, whatever else it holds. */
export const asks = ({ common }: Field, status: Status): boolean =>
  common.when === undefined && isRequiredOf(common.required, status);

/** Whether an entry of which no value is carried over lacks one then, and did not before. */
export function comesToLack(
  from: Field,
  to: Field,
  { value, status }: { readonly value: Json | undefined; readonly status: Status },
): boolean {
  // Where there was a value, a condition that the field stands under is met.
  const hadValue = value !== undefined && !isNone(from, value);
  if (hadValue) return isRequiredOf(to.common.required, status);
  return asks(to, status) && !asks(from, status);
}
