import type { CheckResult } from '../../tasks/check/check.ts';

/** A check as NDJSON: a line for each mistake and each finding, then one with all the rest of the result. */
export function* ndjson({ mistakes, findings, ...result }: CheckResult): Iterable<string> {
  for (const mistake of mistakes) yield `${JSON.stringify({ mistake })}\n`;
  for (const finding of findings) yield `${JSON.stringify({ finding })}\n`;
  yield `${JSON.stringify({ result })}\n`;
}
