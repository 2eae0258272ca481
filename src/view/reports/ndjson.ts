import type { LocatedFinding } from '../../passes/locatedFinding.ts';
import type { CheckResult } from '../../tasks/check/check.ts';

/** A check as NDJSON: a line for each mistake and each finding, then one with all the rest of the result. */
export function* ndjson({ mistakes, findings, ...result }: CheckResult): Iterable<string> {
  for (const mistake of mistakes) yield `${JSON.stringify({ mistake })}\n`;
  yield* findingLines(findings);
  yield `${JSON.stringify({ result })}\n`;
}

/** The lines of findings alone, to be written while the check lasts. */
export function* findingLines(findings: readonly LocatedFinding[]): Iterable<string> {
  for (const finding of findings) yield `${JSON.stringify({ finding })}\n`;
}
