import type { Status } from '../definition/builtIn.ts';
import { isRequiredOf } from '../definition/field.ts';
import { kinds } from '../kinds/index.ts';
import type { Converted, ModelContext } from '../kinds/kindParts.ts';
import { isList, isObject, type Json } from '../plain/json.ts';
import { hasStyles } from '../writing/readings.ts';
import type { ReadText } from '../writing/style.ts';
import { isNone } from './emptiness.ts';
import type { Field } from './link.ts';
import { type Separator, splitItems } from './separators.ts';
import { kindConverter, mayBeWritten } from './writtenTexts.ts';

/** The outcome for a whole value on its way to another definition of its field. */
export interface ConversionOutcome {
  /** What can be carried; `undefined` where nothing is left. */
  readonly value: Json | undefined;
  readonly lost: readonly { readonly item: Json; readonly why: string }[];
}

/** The options of converting a value to another definition. */
export interface ConversionContext {
  /** The separator of a text that becomes a list. */
  readonly separator?: Separator | undefined;
  /** The separator of a list that becomes one text. */
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
 * @param by the work beside the conversions of kinds.
 */
export function converter(
  oldField: Field,
  newField: Field,
  context: ModelContext,
  by: ConversionContext = {},
): (value: Json) => ConversionOutcome {
  const parted = by.inside === undefined ? undefined : partConverter(oldField, newField, context, by.inside);
  if (parted) return parted;

  const carry = converterInOneLanguage(oldField, newField, context, by);
  const [main = 'en'] = context.languages;

  return (value) => {
    const versions =
      oldField.common.localized && isObject(value)
        ? Object.entries(value).filter(([, value]) => !isNone(oldField, value))
        : ([[main, value]] as const);
    const outcomes = versions.map(([language, version]) => ({ language, ...carry(version) }));
    const lost = outcomes.flatMap((outcome) => outcome.lost);
    if (newField.common.localized) {
      const carried = outcomes.flatMap(({ language, value }) =>
        value === undefined ? [] : [[language, value] as const],
      );
      return { value: carried.length > 0 ? Object.fromEntries(carried) : undefined, lost };
    }

    const mainOutcome = outcomes.find(({ language }) => language === main);
    const otherLosses = outcomes
      .filter((outcome) => outcome !== mainOutcome)
      .flatMap(({ value, language }) =>
        value === undefined
          ? []
          : [{ item: value, why: `the field has one value, and ${main} is kept, not ${language}` }],
      );

    return { value: mainOutcome?.value, lost: [...lost, ...otherLosses] };
  };
}

function converterInOneLanguage(
  oldField: Field,
  newField: Field,
  context: ModelContext,
  { separator, joint, find, read }: ConversionContext,
): (value: Json) => ConversionOutcome {
  const isSameKind = oldField.kind.name === newField.kind.name;
  const convert = kindConverter(oldField, newField, context);
  if (!isSameKind && !convert && !find && !read)
    return (value) => ({
      value: undefined,
      lost: [{ item: value, why: `${oldField.kind.name} cannot become ${newField.kind.name}` }],
    });

  const convertItem = (item: Json): Converted => {
    if (typeof item === 'string' && find) return find(item);
    const readValue = typeof item === 'string' ? read?.(item) : undefined;
    if (readValue !== undefined) return { value: readValue };
    if (convert) return convert(item);
    const same = newField.kind.rewritten?.(item, oldField.options, newField.options) ?? item;
    if (isSameKind) return { value: same };
    return { problem: `${oldField.kind.name} cannot become ${newField.kind.name}` };
  };

  const isListed = oldField.common.many === undefined && newField.common.many !== undefined;

  return (value) => {
    // An empty text is no item of a list.
    if (isListed && value === '') return { value: newField.common.mayBeEmpty ? [] : undefined, lost: [] };

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
    if (joint !== undefined && !newField.common.many && carried.length > 1)
      return { value: carried.map(String).join(joint), lost };
    return held(carried, newField, isList(value), lost);
  };
}

/** What a field holds of several values. @param wasList whether they was in a list. */
function held(
  values: readonly Json[],
  { kind, common: { many } }: Field,
  wasList: boolean,
  lost: ConversionOutcome['lost'],
): ConversionOutcome {
  const [first, ...rest] = values;
  // Two words for one term leave it there once.
  const listed = kind.term ? [...new Set(values)] : values;
  if (many && (wasList || !many.orOne)) return { value: listed.length > 0 ? [...listed] : undefined, lost };
  const losses = rest.map((item) => ({ item, why: 'the field holds one value, and the first is kept' }));
  return { value: first, lost: [...lost, ...losses] };
}

/** Compiles how values become a field inside objects, or are what one inside objects was; nothing where neither is so. */
function partConverter(
  oldField: Field,
  newField: Field,
  context: ModelContext,
  inside: string,
): ((value: Json) => ConversionOutcome) | undefined {
  const [into, outOf] = [partIn(newField, inside), partIn(oldField, inside)];
  if (holdsParts(newField) && !holdsParts(oldField) && into && !newField.common.localized)
    return intoObjects(oldField, newField, { inside, part: into, context });
  if (holdsParts(oldField) && !holdsParts(newField) && outOf && !oldField.common.localized)
    return outOfObjects(oldField, newField, { inside, part: outOf, context });
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

function intoObjects(
  oldField: Field,
  newField: Field,
  { inside, part, context }: Part,
): (value: Json) => ConversionOutcome {
  // Of a list each becomes its own object, where there may be several.
  const isEach = oldField.common.many !== undefined && newField.common.many !== undefined && !oldField.common.localized;
  const carry = converter(isEach ? alone(oldField) : oldField, part, context);

  return (value) => {
    const outcomes = (isEach && isList(value) ? value : [value]).map(carry);
    const objects = outcomes.flatMap(({ value }) => (value === undefined ? [] : [{ [inside]: value }]));
    return held(
      objects,
      newField,
      isEach && isList(value),
      outcomes.flatMap(({ lost }) => lost),
    );
  };
}

function outOfObjects(
  oldField: Field,
  newField: Field,
  { inside, part, context }: Part,
): (value: Json) => ConversionOutcome {
  const isWhole = oldField.common.many === undefined || part.common.many !== undefined;
  // Several make a list in one language.
  const isListed = !isWhole && newField.common.many !== undefined;
  const carry = converter(part, isListed ? inOneLanguage(alone(newField)) : newField, context);
  const [main = 'en'] = context.languages;

  return (value) => {
    const outcomes = (isList(value) ? value : [value]).filter(isObject).map((object) => {
      const { [inside]: inner, ...rest } = object;
      const isMore = Object.entries(rest).some(([key, value]) => {
        const other = oldField.fields.get(key);
        return other === undefined || !isNone(other, value);
      });
      const lost = isMore ? [{ item: object, why: `only \`${inside}\` of it is kept` }] : [];
      const carried = inner === undefined || inner === null ? undefined : carry(inner);
      return { value: carried?.value, lost: [...lost, ...(carried?.lost ?? [])] };
    });
    const lost = outcomes.flatMap((item) => item.lost);
    const values = outcomes.flatMap(({ value }) => (value === undefined ? [] : [value]));
    // Where one object alone holds it, or each a list, it is what the field holds.
    if (isWhole && !isList(value)) return { value: values[0], lost };

    const outcome = held(isWhole ? values.flat() : values, newField, isList(value), lost);
    const isByLanguage = isListed && newField.common.localized && outcome.value !== undefined;

    if (!isByLanguage) return outcome;
    return { value: { [main]: outcome.value ?? null }, lost: outcome.lost };
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
