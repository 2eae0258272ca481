import { grouped } from '../../core/plain/grouped.ts';
import { count } from '../../core/plain/words.ts';
import type { LocatedFinding } from '../../passes/locatedFinding.ts';
import type { CheckResult } from '../../tasks/check.ts';
import { clip, glyphs, type Look, next, oneLine, sayPointer, table, wrap } from '../look.ts';
import { contentStateText } from './contentState.ts';
import { placeText } from './trouble.ts';

/** The result of a check: findings by entry, then a summary by kind of finding. Quiet when all is well. */
export function checkText(result: CheckResult, look: Look): string {
  if (result.mistakes.length > 0) return mistakesText(result, look);
  const { paint } = look;
  const { findings, entries } = result;
  const what = `${count(entries, 'entry', 'entries')} against ${count(result.types, 'type')} and ${count(result.taxonomies, 'taxonomy', 'taxonomies')}`;
  const standing = result.standing ? contentStateText(result.standing, look) : '';
  if (findings.length === 0) return `${paint.good(glyphs.fine)} ${paint.strong('All fine')}: ${what}\n${standing}`;
  const errors = findings.filter(({ severity }) => severity === 'error').length;
  const warnings = findings.length - errors;
  const verdict =
    errors > 0
      ? `${paint.bad(glyphs.wrong)} ${paint.strong(count(errors, 'error'))}${warnings > 0 ? `, ${count(warnings, 'warning')}` : ''}`
      : `${paint.good(glyphs.fine)} ${paint.strong('No error')}, ${count(warnings, 'warning')}`;
  const rows = result.summary.map(({ finding, severity, count: number, about }) => [
    String(number),
    mark(severity, look),
    finding,
    paint.soft(about),
  ]);

  return [
    [...grouped(findings, ({ file, entry }) => `${file} ${entry ?? ''}`).values()]
      .map((group) => `${fileText(group, look)}\n`)
      .join('\n'),
    `\n${verdict}: ${what}\n`,
    `${table([{ title: '', align: 'right' }, { title: '' }, { title: 'Finding' }, { title: 'Meaning', flex: true }], rows, look)}\n`,
    standing,
  ].join('');
}

const mark = (severity: LocatedFinding['severity'], { paint }: Look): string =>
  severity === 'error' ? paint.bad(glyphs.wrong) : paint.warn(glyphs.warn);

function fileText(findings: readonly LocatedFinding[], look: Look): string {
  const { paint, width } = look;
  const [first] = findings;
  const title = `${paint.strong(first?.entry ?? first?.file ?? '')}${first?.entry === undefined ? '' : `  ${paint.soft(first.file)}`}`;
  const lines = findings.map((finding) => {
    const { severity, pointer, says, value, mend, line, column } = finding;
    const field = pointer === '' ? '' : `${paint.name(sayPointer(pointer))} `;
    const shown = typeof value === 'string' || typeof value === 'number' ? paint.soft(` (${oneLine(value, 40)})`) : '';
    const asked = finding.origin === undefined ? '' : paint.soft(`, asked for at ${finding.origin}`);

    return [
      `  ${mark(severity, look)} ${wrap(`${field}${says}${shown}${asked}`, width - 4, '    ')}`,
      `    ${wrap(`${paint.soft(`${line}:${column} ${finding.finding}`)}  ${mend}`, width - 4, '    ')}`,
    ].join('\n');
  });
  return [title, ...lines].join('\n');
}

function mistakesText({ mistakes }: CheckResult, look: Look): string {
  const { paint, width } = look;
  const lines = mistakes.map(({ file, line, column, says, mend, excerpt }) =>
    [
      `${paint.bad(glyphs.wrong)} ${wrap(says.charAt(0).toUpperCase() + says.slice(1), width - 2, '  ')}`,
      `  ${paint.soft(placeText({ file, line, column }))}`,
      ...(excerpt.trim() === ''
        ? []
        : [
            `  ${paint.soft(`${line} │`)} ${clip(excerpt, width - String(line).length - 5)}`,
            `  ${paint.soft(`${' '.repeat(String(line).length)} │`)} ${' '.repeat(Math.max(0, column - 1))}${paint.bad('^')}`,
          ]),
      `  ${wrap(mend, width - 2, '  ')}\n`,
    ].join('\n'),
  );
  return `${lines.join('\n')}\n${paint.bad(glyphs.wrong)} ${paint.strong(`${count(mistakes.length, 'mistake')} in the model`)}: no entry was looked at\n${next('lumbrik check', 'once they are mended', look)}`;
}
