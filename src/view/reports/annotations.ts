import type { CheckResult } from '../../tasks/check/check.ts';
import { toldBy } from './reportItems.ts';

/**
 * A check as commands in the log of a build, a line each, which build services show beside the changed lines:
 * `::error file=…,line=…,col=…,endLine=…,endColumn=…,title=…::what is wrong`.
 */
export function* annotations(result: CheckResult): Iterable<string> {
  for (const { file, line, column, end, severity, entry, message, mend, name } of toldBy(result)) {
    const facts = {
      file: result.below + file,
      line,
      col: column,
      endLine: end?.line,
      endColumn: end?.column,
      title: entry === undefined ? name : `${entry}: ${name}`,
    };
    const properties = Object.entries(facts).flatMap(([key, value]) =>
      value === undefined ? [] : [`${key}=${escapedFact(String(value))}`],
    );
    yield `::${severity} ${properties.join(',')}::${escaped(`${message} ${mend}`)}\n`;
  }
}

/** Percent signs and line breaks are encoded, so that no value ends the line and begins its own command. */
const escaped = (text: string): string =>
  text.replace(/[%\r\n]/gu, (sign) => `%${(sign.codePointAt(0) ?? 0).toString(16).toUpperCase().padStart(2, '0')}`);

const escapedFact = (text: string): string => escaped(text).replaceAll(':', '%3A').replaceAll(',', '%2C');
