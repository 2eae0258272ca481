import { visible } from '../../core/plain/visible.ts';
import type { CheckResult } from '../../tasks/check/check.ts';
import { toldBy } from './reportItems.ts';

/** A check as compilers tell errors, a line each: `file:line:column: error: what is wrong [name]`. Editors and logs read that. */
export function* lines(result: CheckResult): Iterable<string> {
  for (const { file, line, column, severity, entry, message, mend, name } of toldBy(result)) {
    const where = `${result.below}${file}:${line}:${column}`;
    yield `${visible(`${where}: ${severity}: ${entry === undefined ? '' : `${entry}: `}${message} ${mend} [${name}]`)}\n`;
  }
}
