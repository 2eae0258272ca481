import { z } from 'zod';
import type { FindingSettings } from '../../core/definition/workspace.ts';
import { parsePointer } from '../../core/plain/json.ts';
import type { LocatedFinding } from '../../passes/locatedFinding.ts';
import type { Baseline } from './baseline.ts';

/** A finding that is so on purpose, with how often it was found. */
export const Declined = z.strictObject({
  finding: z.string(),
  /** The entry, the field or the file that it is declined for. */
  at: z.string(),
  because: z.string(),
  count: z.int(),
});
export type Declined = z.output<typeof Declined>;

/** What is told of what was found, and what is not. */
export interface Sifted {
  readonly findings: readonly LocatedFinding[];
  readonly declined: readonly Declined[];
  /** How many findings are of a kind that the workspace ignores. */
  readonly ignored: number;
  /** How many are in the baseline. */
  readonly known: number;
}

/**
 * Takes out of what was found what the workspace ignores, has declined, or knows already; the rest gets the severity that
 * the workspace gives it.
 */
export function sift(
  findings: readonly LocatedFinding[],
  { severity = {}, declined = [] }: FindingSettings,
  baseline: Baseline,
): Sifted {
  const counts = declined.map(() => 0);
  let ignored = 0;
  let known = 0;
  const told = findings.flatMap((found): readonly LocatedFinding[] => {
    const bad = severity[found.finding as keyof typeof severity] ?? found.severity;
    if (bad === 'ignore') {
      ignored += 1;
      return [];
    }
    const index = declined.findIndex((one) => one.finding === found.finding && isAt(found, one));
    if (index >= 0) {
      counts[index] = (counts[index] ?? 0) + 1;
      return [];
    }
    // What cannot be read is never known: nobody has seen what it says.
    if (found.finding !== 'unreadable-file' && baseline.takes(found)) {
      known += 1;
      return [];
    }
    return [bad === found.severity ? found : { ...found, severity: bad }];
  });
  return {
    findings: told,
    declined: declined.map(({ finding, entry, field, file, because }, index) => ({
      finding,
      at: entry ?? field ?? file ?? '',
      because,
      count: counts[index] ?? 0,
    })),
    ignored,
    known,
  };
}

type Decline = NonNullable<FindingSettings['declined']>[number];

function isAt({ entry, file, pointer }: LocatedFinding, decline: Decline): boolean {
  if (decline.entry !== undefined) return entry === decline.entry;
  if (decline.file !== undefined) return file === decline.file;
  if (entry === undefined) return false;
  const type = entry.slice(0, entry.indexOf('/'));
  // Indexes of lists, and languages, are no part of a field's name.
  const keys = parsePointer(pointer).filter((key) => !/^\d+$/u.test(key));
  return keys.some((_, end) => `${type}.${keys.slice(0, end + 1).join('.')}` === decline.field);
}
