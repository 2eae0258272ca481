import { compareText } from '../plain/compareText.ts';
import { equal, isList, type Json } from '../plain/json.ts';

/**
 * What a change of an option means for values: `wider` lets more pass, `narrower` less, `different` both, and
 * `presentation` is about how a field is shown or filled and never about values that exist.
 */
export type Direction = 'wider' | 'narrower' | 'different' | 'presentation';

/** Whether a change of an option may hit values that exist. */
export const mayHit = (direction: Direction): boolean => direction === 'narrower' || direction === 'different';

/** How the values that a change hits are measured and spoken of. */
export interface Measure {
  readonly of: (value: Json) => number | undefined;
  /** How the hit values differ from the others: "4 of 11 entries are **longer**". */
  readonly beyond: string;
  /** The name of the worst of them: "**the longest**, lighthouse/skerry-point, has 287". */
  readonly extreme: string;
  /** How its size is stated: "has 287 characters". */
  readonly has: (size: number) => string;
  /** That characters are counted: how long a value is, and nothing of which comes first. */
  readonly isLength?: true;
  /** Whether the largest or the smallest is the worst. */
  readonly worst: 'largest' | 'smallest';
}

/** The meaning of a change of one option. */
export interface Compatibility {
  readonly direction: (before: Json | undefined, after: Json | undefined) => Direction;
  readonly measure?: Measure;
  /** What readers of the content feel, where the direction alone does not say it. */
  readonly readers?: (direction: Direction) => ReaderRating | undefined;
}

/** What a change does to the entries that exist. */
export type EntryRating = 'valid' | 'migrate' | 'lose';
/** What a change does to readers: programs and pages that use the content. */
export type ReaderRating = 'unaffected' | 'notice' | 'break';

type Compare<T> = (a: T, b: T) => number;
const byNumber: Compare<number> = (a, b) => a - b;

const compareAny = (a: Json, b: Json): number => {
  if (typeof a === 'number' && typeof b === 'number') return byNumber(a, b);
  return compareText(String(a), String(b));
};

/** A value must not be less: a higher bound lets less pass. Texts such as dates compare letter by letter. */
export const lowerBound = (measure?: Measure, order: Compare<Json> = compareAny): Compatibility =>
  bound((before, after) => order(after, before), measure);

/** A value must not be more: a lower bound lets less pass. */
export const upperBound = (measure?: Measure, order: Compare<Json> = compareAny): Compatibility =>
  bound((before, after) => order(before, after), measure);

function bound(tightening: Compare<Json>, measure: Measure | undefined): Compatibility {
  const direction: Compatibility['direction'] = (before, after) => {
    if (before === undefined) return 'narrower';
    if (after === undefined) return 'wider';
    if (tightening(before, after) > 0) return 'narrower';
    return 'wider';
  };

  if (measure) return { direction, measure };
  return { direction };
}

/** A list of allowed values: more is wider. `idOf` tells the items apart; the rest of an item is presentation. */
export const allowed = (idOf: (item: Json) => string, readers?: Compatibility['readers']): Compatibility => ({
  direction: (before, after) => {
    const had = new Set((isList(before) ? before : []).map(idOf));
    const has = new Set((isList(after) ? after : []).map(idOf));
    const hasLost = [...had].some((id) => !has.has(id));
    const come = [...has].some((id) => !had.has(id));
    if (hasLost && come) return 'different';
    if (hasLost) return 'narrower';
    if (come) return 'wider';
    return 'presentation';
  },
  ...(readers ? { readers } : {}),
});

/** A condition that has no more and less: setting it narrows, lifting it widens, another one does both. */
export const condition: Compatibility = {
  direction: (before, after) => {
    if (before === undefined) return 'narrower';
    if (after === undefined) return 'wider';
    if (equal(before, after)) return 'presentation';
    return 'different';
  },
};

/** An option that no value depends on. */
export const presentation: Compatibility = { direction: () => 'presentation' };

/** An option whose value decides whether a change is wider or narrower. */
export const byValue = (direction: (after: Json | undefined) => Direction): Compatibility => ({
  direction: (_before, after) => direction(after),
});

/** An option after whose change the stored values mean something else to anyone who reads them. */
export const reinterpreted: Compatibility = { direction: () => 'different', readers: () => 'break' };

/** Ratings that follow from a meaning: for entries by model alone, however many there are. */
export function rate(
  meaning: Compatibility,
  before: Json | undefined,
  after: Json | undefined,
): { readonly entries: EntryRating; readonly readers: ReaderRating } {
  const direction = meaning.direction(before, after);
  const entries: EntryRating = direction === 'narrower' || direction === 'different' ? 'migrate' : 'valid';
  const usual: ReaderRating = direction === 'wider' || direction === 'different' ? 'notice' : 'unaffected';
  return { entries, readers: meaning.readers?.(direction) ?? usual };
}
