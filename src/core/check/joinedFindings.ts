import type { Finding } from '../entry/findings.ts';
import type { Overflow } from './overflow.ts';

/** What the entries say together, gathered by pass two. */
export interface Joined {
  /** Problems of references. */
  readonly findings: readonly Finding[];
  /** How many entries each type has. */
  readonly entries: ReadonlyMap<string, number>;
  /** How many references there are from a type to a type, by `from → to`. */
  readonly references: ReadonlyMap<string, number>;
  /** How many entries use each term, by `taxonomy:term`. */
  readonly terms: ReadonlyMap<string, number>;
}

/** What goes for all entries of a check. */
export interface Circumstances<Place> {
  /** A place where an entry is kept, in words. */
  readonly sayPlace: (place: Place) => string;
  /** The moment (RFC 3339) at which references are followed; absent where it shall make no difference. */
  readonly currentTime?: string | undefined;
  /** Where facts are put that are looked at rarely; memory, if it says nothing. */
  readonly overflow?: Overflow;
}
