import { alikeTerms } from '../taxonomy/alike.ts';

/** So sure it has to be that two values are one, to suggest that they become one entry. */
const sureEnough = 0.75;

/** Another way of writing a value, and the value that it stands for. */
export type Variants = Readonly<Record<string, string>>;

/**
 * Values that look like other ways of writing another one: with an initial for a first name, in another case, misspelt.
 * @param values the values, with how many entries have each.
 * @returns each variant with the value that it stands for, which itself is no variant.
 */
export function alikeValues(values: ReadonlyMap<string, number>): Variants {
  const used = [...values].map(([term, uses]) => ({
    term,
    label: term,
    labels: [],
    synonyms: [],
    uses,
    isListed: false,
    isBorrowed: false,
  }));
  const merged = new Map<string, string>();
  for (const { keep, merge, sure: certainty } of alikeTerms(used))
    if (certainty >= sureEnough && merged.get(keep.term) !== merge.term) merged.set(merge.term, keep.term);
  const distinct = [...values.keys()].filter((value) => !merged.has(value));
  for (const [short, long] of initialsOf(distinct)) merged.set(short, long);

  const last = (value: string, visited: ReadonlySet<string> = new Set()): string => {
    const next = merged.get(value);
    if (next === undefined || visited.has(next)) return value;
    return last(next, new Set([...visited, value]));
  };

  return Object.fromEntries(
    [...merged.keys()].map((value) => [value, last(value)] as const).filter(([a, b]) => a !== b),
  );
}

/** Names with an initial, `M. Holt`, each with the only name that it can stand for: `Maren Holt`. */
function initialsOf(values: readonly string[]): readonly (readonly [short: string, long: string])[] {
  const byShort = new Map<string, string[]>();
  for (const value of values) {
    const [first = '', ...rest] = value.trim().split(/\s+/u);
    if (first.length < 2 || first.endsWith('.') || rest.length === 0) continue;
    const short = `${first.charAt(0)}. ${rest.join(' ')}`.toLowerCase();
    byShort.set(short, [...(byShort.get(short) ?? []), value]);
  }

  return values.flatMap((value) => {
    const short = value.trim().replace(/^(\p{L})\.?\s*(?=\p{L}{2})/u, '$1. ');
    const long = short === value.trim() && !/^\p{L}\. /u.test(short) ? undefined : byShort.get(short.toLowerCase());
    const [only, ...rest] = long ?? [];
    if (only === undefined || rest.length > 0 || only === value) return [];
    return [[value, only] as const];
  });
}
