import { type Status, statuses } from '../definition/builtIn.ts';
import type { Field, Model } from '../model/link.ts';
import { fieldsWithin } from '../model/nestedFields.ts';
import { compact, type Json } from '../plain/json.ts';
import { distinctError } from './distinct.ts';
import { type CountedField, type Extreme, isShown, measureOf, valueOfKey } from './fieldTally.ts';
import type { CountedType } from './profiler.ts';
import { type CountedNumbers, countAbove, medianOf } from './spread.ts';
import { distinctOf, mostFrequent } from './valueCounts.ts';

/** How a field is used, as it is reported. */
export interface FieldProfile {
  readonly address: string;
  readonly label: string;
  readonly kind: string;
  /** How many places there are for it, and how many of them have a value. */
  readonly of: number;
  readonly filled: number;
  /** How many single values that are: the items of lists and each language count alone. */
  readonly values: number;
  readonly statuses: readonly { readonly status: Status; readonly of: number; readonly filled: number }[];
  readonly languages?: readonly { readonly language: string; readonly filled: number }[];
  /** How many different values there are; `error` is how far off that may be, as a share, where it is an estimate. */
  readonly distinct?: { readonly count: number; readonly error?: number };
  readonly sizes?: Sizes;
  readonly items?: { readonly smallest: number; readonly median: number; readonly largest: number };
  /** The most frequent values; each may be counted by `under` too low. */
  readonly frequent: readonly { readonly value: Json; readonly count: number }[];
  readonly under?: number;
  readonly shapes: readonly { readonly shape: string; readonly count: number }[];
  /** How many values would break a limit: characters of texts. */
  readonly over: readonly { readonly limit: number; readonly count: number }[];
}

/** How large values are. */
interface Sizes {
  /** Whether characters are counted; else it is the value itself that is measured. */
  readonly of: 'characters' | 'values';
  readonly smallest: Size;
  readonly median: Omit<Size, 'entry'>;
  readonly largest: Size;
  /** That the one in the middle is known to three digits. */
  readonly isRounded?: true;
}

interface Size {
  readonly size: number;
  /** The size as the field's kind writes it: `2026-03-01`. */
  readonly says: string;
  readonly entry: string;
}

/** The use of the fields of a type. */
export interface TypeProfile {
  readonly type: string;
  readonly label: string;
  readonly entries: number;
  readonly statuses: readonly { readonly status: Status; readonly entries: number }[];
  readonly fields: readonly FieldProfile[];
}

/** The parts of a report beside the counts. */
export interface SummaryDemand {
  /** So many of the most frequent values and shapes. */
  readonly most: number;
  /** Lengths that are requested; those that fit the values if nothing is stated. */
  readonly limits?: readonly number[] | undefined;
  /** The one requested field, by its path. */
  readonly field?: string | undefined;
}

/** Tells counts of a type. */
export function summarizeType(model: Model, name: string, counted: CountedType, demand: SummaryDemand): TypeProfile {
  const type = model.types.get(name);
  const countOf = (status: Status): number => counted.entries.get(status) ?? 0;

  return {
    type: name,
    label: type?.label.many ?? name,
    entries: statuses.reduce((sum, status) => sum + countOf(status), 0),
    statuses: statuses.map((status) => ({ status, entries: countOf(status) })).filter(({ entries }) => entries > 0),
    fields: fieldsWithin(type?.fields ?? new Map()).flatMap((field) => {
      const countedField = counted.fields.get(field.name);
      if (!countedField || (demand.field !== undefined && demand.field !== field.name)) return [];
      return [summarizeField(model, { field, type: name, counted: countedField }, demand)];
    }),
  };
}

interface FieldOf {
  readonly field: Field;
  readonly type: string;
  readonly counted: CountedField;
}

function summarizeField(
  model: Model,
  { field, type, counted }: FieldOf,
  { most, limits }: SummaryDemand,
): FieldProfile {
  const isInside = field.name.includes('.');
  const distinct = distinctOf(counted.values);
  const hasValues = counted.values.counts.size > 0;

  return compact({
    address: `${type}.${field.name}`,
    label: field.label,
    kind: field.kind.name,
    of: counted.of,
    filled: counted.filled,
    values: counted.singles,
    // Values inside a list are not as many as entries.
    statuses: isInside
      ? []
      : statuses
          .map((status) => ({
            status,
            of: counted.ofIn.get(status) ?? 0,
            filled: counted.filledIn.get(status) ?? 0,
          }))
          .filter((share) => share.of > 0),
    languages: field.common.localized
      ? model.context.languages.map((language) => ({ language, filled: counted.languages.get(language) ?? 0 }))
      : undefined,
    distinct: hasValues
      ? compact({ count: distinct.count, error: distinct.isExact ? undefined : distinctError })
      : undefined,
    sizes: sizesOf(field, counted),
    items: field.common.many ? itemsOf(counted.items) : undefined,
    frequent: mostFrequent(counted.values, most, isShown).map(([key, count]) => ({
      value: valueOfKey(key) ?? null,
      count,
    })),
    under: counted.values.under > 0 ? counted.values.under : undefined,
    shapes: mostFrequent(counted.shapes, most, () => true).map(([shape, count]) => ({ shape, count })),
    over: measureOf(field)?.isLength
      ? (limits ?? fittingLimits(counted)).map((limit) => ({ limit, count: countAbove(counted.sizes, limit) }))
      : [],
  }) as FieldProfile;
}

function sizesOf(field: Field, { sizes, smallest, largest }: CountedField): Sizes | undefined {
  const measure = measureOf(field);
  const median = medianOf(sizes);
  if (!measure || !smallest || !largest || median === undefined) return undefined;

  const describe = (size: number): string => measure.has(size).replace(/^has /u, '');
  const sizeOf = ({ size, entry }: Extreme): Size => ({ size, says: describe(size), entry });

  return compact({
    of: measure.isLength ? 'characters' : 'values',
    smallest: sizeOf(smallest),
    median: { size: median, says: describe(median) },
    largest: sizeOf(largest),
    isRounded: sizes.isRounded ? true : undefined,
  }) as Sizes;
}

function itemsOf(items: CountedNumbers): FieldProfile['items'] {
  const numbers = [...items.counts.keys()];
  const median = medianOf(items);
  if (median === undefined) return undefined;
  return { smallest: Math.min(...numbers), median, largest: Math.max(...numbers) };
}

/** Limits that people choose. */
const round = [10, 20, 30, 40, 50, 60, 80, 100, 120, 160, 200, 250, 300, 400, 500, 800, 1000, 2000, 5000, 10_000];

/** Of the limits that people choose, those above the middle, up to the first that no value breaks; the last five of them. */
function fittingLimits({ sizes, largest }: CountedField): readonly number[] {
  const median = medianOf(sizes) ?? 0;
  const end = round.findIndex((limit) => limit >= (largest?.size ?? 0));
  return round
    .slice(0, end < 0 ? round.length : end + 1)
    .filter((limit) => limit >= median)
    .slice(-5);
}
