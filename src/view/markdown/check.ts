import { severitiesOf } from '../../core/entry/severities.ts';
import { count } from '../../core/plain/words.ts';
import type { CheckResult } from '../../tasks/check/check.ts';
import { toldBy } from '../reports/reportItems.ts';
import { sayNoneChecked } from '../text/check.ts';
import { code, escaped } from './markdown.ts';

/** So many findings are listed in a summary. */
const mostListed = 50;

/** A check as Markdown (with tables) that fits into the comment of a review, or the summary of a build. */
export function* checkMarkdown(result: CheckResult): Iterable<string> {
  const { entries, types, mistakes, findings, summary } = result;
  const subject = `${count(entries, 'entry', 'entries')} against ${count(types, 'type')}`;
  const { errors, warnings } = severitiesOf(summary);

  if (mistakes.length > 0) yield `**${count(mistakes.length, 'mistake')} in the model**: no entry was looked at.\n`;
  else if (findings.length === 0 && result.noneSelected)
    yield `**${sayNoneChecked[result.noneSelected]}**: nothing was checked.\n`;
  else if (findings.length === 0) yield `**All fine**: ${subject}.\n`;
  else yield `**${errors > 0 ? count(errors, 'error') : 'No error'}**, ${count(warnings, 'warning')}: ${subject}.\n`;

  if (summary.length > 0) {
    yield '\n| finding | severity | how many | meaning |\n| --- | --- | ---: | --- |\n';
    for (const { finding, severity, count: number, about } of summary)
      yield `| ${code(finding)} | ${severity} | ${number} | ${escaped(about)} |\n`;
  }

  const problemCount = mistakes.length + findings.length;
  if (problemCount === 0) return;

  yield '\n| where | what | what to do |\n| --- | --- | --- |\n';
  let listed = 0;
  for (const { entry, file, line, column, message, mend } of toldBy(result)) {
    listed += 1;
    if (listed > mostListed) break;
    const where = [entry === undefined ? '' : code(entry), code(`${result.below}${file}:${line}:${column}`)];
    yield `| ${where.filter(Boolean).join('<br>')} | ${escaped(message)} | ${escaped(mend)} |\n`;
  }

  if (problemCount > mostListed) yield `\nAnd ${problemCount - mostListed} more.\n`;
}
