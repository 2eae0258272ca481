import type { CheckResult } from '../../tasks/check/check.ts';
import { checkMarkdown } from '../markdown/check.ts';
import { annotations } from './annotations.ts';
import { junit } from './junit.ts';
import { lines } from './lines.ts';
import { ndjson } from './ndjson.ts';
import { sarif } from './sarif.ts';

/** The forms in which a check is reported beside text and JSON, in pieces that are written one after the other. */
export const reports: Readonly<Record<string, (result: CheckResult) => Iterable<string>>> = {
  ndjson,
  sarif,
  junit,
  markdown: checkMarkdown,
  lines,
  annotations,
};
