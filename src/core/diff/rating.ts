import type { EntryRating, ReaderRating } from '../kinds/compatibility.ts';

/** What a difference means for the two parties that it can hurt. */
export interface Rating {
  readonly entries: EntryRating;
  readonly readers: ReaderRating;
}

const entryOrder: readonly EntryRating[] = ['valid', 'migrate', 'lose'];
const readerOrder: readonly ReaderRating[] = ['unaffected', 'notice', 'break'];

/** The worst that any of several ratings says, for each party. */
export function worstOf(ratings: readonly Rating[]): Rating {
  const worst = <T>(order: readonly T[], values: readonly T[]): T | undefined =>
    order[Math.max(0, ...values.map((value) => order.indexOf(value)))];

  return {
    entries:
      worst(
        entryOrder,
        ratings.map(({ entries }) => entries),
      ) ?? 'valid',
    readers:
      worst(
        readerOrder,
        ratings.map(({ readers }) => readers),
      ) ?? 'unaffected',
  };
}
