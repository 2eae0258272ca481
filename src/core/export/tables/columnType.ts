import type { Shape, TextShape } from '../../kinds/shape.ts';
import { postgresPattern } from '../../patterns/pattern.ts';
import type { Json } from '../../plain/json.ts';
import { nameText, textLiteral } from './sqlText.ts';

/** What a column holds, as far as one value can say it. */
export interface ColumnType {
  readonly type: string;
  /** Conditions over the column, whose name stands as {@link itself}. */
  readonly checks: readonly string[];
  /** What of the shape it cannot say. */
  readonly unsaid: readonly string[];
  /** The values of an enumeration, of which the type is to be made. */
  readonly values?: readonly string[];
}

/** Where the column is in a condition over it. */
export const itself = '\u0000';

/** A condition over a column, by its name. */
export const over = (check: string, column: string): string => check.replaceAll(itself, nameText(column));

/** The column for a value that is no group of keys; others are kept as JSON. */
export function columnType(shape: Shape, mayBeEmpty: boolean): ColumnType {
  switch (shape.is) {
    case 'text':
      return textType(shape, mayBeEmpty);
    case 'number':
    case 'integer':
      return numberType(shape);
    case 'boolean':
      return only('boolean');
    case 'one of':
      return { ...only('text'), values: shape.values };
    case 'by schema':
      return { ...only('jsonb'), unsaid: ['by a JSON Schema of its own'] };
    default:
      return only('jsonb');
  }
}

const only = (type: string): ColumnType => ({ type, checks: [], unsaid: [] });

const typesOfTexts = {
  date: 'date',
  'date-time': 'timestamptz',
  'local date-time': 'timestamp',
  'time of day': 'time',
  'length of time': 'interval',
} as const;

function textType(
  { format, says: message, min, max, earliest, latest, patterns = [] }: TextShape,
  mayBeEmpty: boolean,
) {
  const form = message ?? format;
  if (form !== undefined) {
    const type = typesOfTexts[form];
    const checks = range(
      [earliest, latest].map((bound) => (bound === undefined ? undefined : `${type} ${textLiteral(bound)}`)),
    );
    return { ...only(type), checks };
  }

  const written = patterns.map((pattern) => [pattern, postgresPattern(pattern)] as const);
  const isSayable = (pattern: string | undefined): pattern is string =>
    pattern !== undefined && pattern.length <= longestPattern;
  const least = Math.max(min ?? 0, mayBeEmpty ? 0 : 1);
  const lengths =
    max === undefined && least === 1
      ? [`${itself} <> ''`]
      : range([least === 0 ? undefined : least, max], `char_length(${itself})`);

  return {
    type: 'text',
    checks: [
      ...lengths,
      ...written.flatMap(([, written]) => (isSayable(written) ? [`${itself} ~ ${textLiteral(written)}`] : [])),
    ],
    unsaid: written.flatMap(([pattern, written]) => (isSayable(written) ? [] : [`matches ${pattern}`])),
  };
}

/** Sets of characters that are only known one by one make patterns that nobody reads. */
const longestPattern = 1000;

const [leastInteger, mostInteger] = [-(2 ** 31), 2 ** 31 - 1];

function numberType({
  is: newName,
  min,
  max,
  values,
  places,
}: Extract<Shape, { is: 'number' | 'integer' }>): ColumnType {
  const isSmall = (values ?? [min ?? Number.NEGATIVE_INFINITY, max ?? Number.POSITIVE_INFINITY]).every(
    (value) => value >= leastInteger && value <= mostInteger,
  );
  const bounds = [min, max].map((bound) =>
    bound !== undefined && Math.abs(bound) < Number.MAX_SAFE_INTEGER ? bound : undefined,
  );
  const integerType = isSmall ? 'integer' : 'bigint';

  return {
    type: newName === 'integer' ? integerType : 'numeric',
    checks: [
      ...(values ? [`${itself} in (${values.join(', ')})`] : range(bounds)),
      ...(places === undefined ? [] : [`${itself} = round(${itself}, ${places})`]),
    ],
    unsaid: [],
  };
}

function range([min, max]: readonly (string | number | undefined)[], column = itself): readonly string[] {
  if (min !== undefined && max !== undefined) return [`${column} between ${min} and ${max}`];
  if (min !== undefined) return [`${column} >= ${min}`];
  if (max === undefined) return [];
  return [`${column} <= ${max}`];
}

/** The columns of a group of keys. */
export interface Keys {
  readonly keys: Readonly<Record<string, Shape>>;
  readonly optional: readonly string[];
  /** The key that a value stands for where it is alone. */
  readonly alone?: string;
}

/** The keys that values of a shape have, where these are known and become columns. */
export function keysOf(shape: Shape): Keys | undefined {
  if (shape.is === 'keys')
    return shape.isOpen || Object.keys(shape.keys).length === 0
      ? undefined
      : { keys: shape.keys, optional: shape.optional ?? [] };
  if (shape.is !== 'either') return undefined;

  // A value that may also be alone, for the first of its keys.
  const [single, group] = shape.shapes;
  const keys = group && keysOf(group);
  const [[first, firstShape] = []] = keys ? Object.entries(keys.keys) : [];

  if (keys && first !== undefined && shape.shapes.length === 2 && firstShape === single)
    return { ...keys, alone: first };
  return undefined;
}

/** Whether a value can be in a column at all: what the conditions say of it is left to them. */
export function fitting(type: string, shape: Shape): (value: Json) => boolean {
  if (type === 'jsonb') return (value) => !JSON.stringify(value).includes('\\u0000');
  if (type === 'boolean') return (value) => typeof value === 'boolean';
  if (type === 'integer' || type === 'bigint') return (value) => Number.isSafeInteger(value);
  if (type === 'numeric') return (value) => typeof value === 'number';
  if (shape.is === 'one of') return (value) => typeof value === 'string' && shape.values.includes(value);

  const patterns =
    type === 'text' || shape.is !== 'text' ? [] : (shape.patterns ?? []).map((pattern) => new RegExp(pattern, 'u'));
  return (value) =>
    typeof value === 'string' && !value.includes('\u0000') && patterns.every((pattern) => pattern.test(value));
}
