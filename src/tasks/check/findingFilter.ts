import { z } from 'zod';
import type { FindingName } from '../../core/definition/findingNames.ts';
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

/** What is reported of findings, and what is not. */
export interface Filtered {
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
export class FindingFilter {
  readonly #settings: FindingSettings;
  readonly #declined: NonNullable<FindingSettings['declined']>;
  readonly #baseline: Baseline;
  /** How often each declined finding was found. */
  readonly #counts: number[];
  #ignored = 0;
  #known = 0;

  constructor(settings: FindingSettings, baseline: Baseline) {
    this.#settings = settings;
    this.#declined = settings.declined ?? [];
    this.#baseline = baseline;
    this.#counts = this.#declined.map(() => 0);
  }

  /** A finding as it is reported; `undefined` where it is not. */
  take(finding: LocatedFinding): LocatedFinding | undefined {
    const severity = this.#settings.severity?.[finding.finding as FindingName] ?? finding.severity;
    if (severity === 'ignore') {
      this.#ignored += 1;
      return undefined;
    }

    const index = this.#declined.findIndex(
      (declined) => declined.finding === finding.finding && isAt(finding, declined),
    );
    if (index >= 0) {
      this.#counts[index] = (this.#counts[index] ?? 0) + 1;
      return undefined;
    }
    // What cannot be read is never known: nobody has seen its content.
    if (finding.finding !== 'unreadable-file' && this.#baseline.takes(finding)) {
      this.#known += 1;
      return undefined;
    }
    if (severity === finding.severity) return finding;
    return { ...finding, severity };
  }

  /** The removed parts. */
  suppressed(): Omit<Filtered, 'findings'> {
    return {
      declined: this.#declined.map(({ finding, entry, field, file, because }, index) => ({
        finding,
        at: entry ?? field ?? file ?? '',
        because,
        count: this.#counts[index] ?? 0,
      })),
      ignored: this.#ignored,
      known: this.#known,
    };
  }
}

/** What a filter leaves of everything that was found. */
export function filterFindings(
  findings: readonly LocatedFinding[],
  settings: FindingSettings,
  baseline: Baseline,
): Filtered {
  const filter = new FindingFilter(settings, baseline);
  return { findings: findings.flatMap((finding) => filter.take(finding) ?? []), ...filter.suppressed() };
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
