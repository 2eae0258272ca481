import { type EntryAddress, keyOf } from '../entry/entry.ts';
import type { Finding } from '../entry/findings.ts';
import type { Model } from '../model/link.ts';
import type { StoredCount } from './eligibility.ts';
import { foundIn } from './makeFinding.ts';
import { type Link, pointingBy } from './referenceBounds.ts';

/** A number that is stored in an entry and counts what points there. */
export interface CountIn {
  readonly entry: EntryAddress;
  readonly count: StoredCount;
}

/** Stored counts of what points at an entry that are no longer true. */
export function* wrongCounts(counted: readonly CountIn[], links: readonly Link[], model: Model): Iterable<Finding> {
  if (counted.length === 0) return;

  const pointing = pointingBy(links, new Set(counted.map(({ count }) => count.of)), model);
  for (const { entry, count } of counted) {
    const number = pointing.get(`${count.of} ${keyOf(entry)}`)?.size ?? 0;
    if (number === count.stored) continue;

    const data = { stored: count.stored, computed: number, by: count.of };
    yield foundIn(entry, 'not-computed:count', data, {
      severity: 'warning',
      path: count.path,
      value: count.stored,
      limit: number,
      fix: { set: number },
    });
  }
}
