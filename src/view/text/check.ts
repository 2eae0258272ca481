import { severitiesOf } from '../../core/entry/severities.ts';
import { grouped } from '../../core/plain/grouped.ts';
import { count, groupThousands } from '../../core/plain/words.ts';
import type { LocatedFinding } from '../../passes/locatedFinding.ts';
import type { CheckResult } from '../../tasks/check/check.ts';
import { clip, glyphs, type Look, next, oneLine, sayPointer, table, wrap } from '../look.ts';
import { contentStateText } from './contentState.ts';
import { placeText } from './trouble.ts';

/** So many findings of each name are printed by default. */
export const usualLimit = 50;

/**
 * What is printed of a check: the first findings of each name. Where the entries have not reached the model yet, findings
 * are counted and not listed.
 * @param limit how many of each name; 0 for all.
 */
export function checkShown(result: CheckResult, limit?: number): CheckResult {
  const { findings, standing: state } = result;
  if (state?.state === 'behind' && limit === undefined) return { ...result, findings: [] };
  return { ...result, findings: capped(findings, limit ?? usualLimit) };
}

/** Why no entry was checked, in words. */
export const sayNoneChecked: Readonly<Record<NonNullable<CheckResult['noneSelected']>, string>> = {
  condition: 'No entry meets the condition',
  changes: 'No entry changed',
  names: 'There is no entry of that name or in that place',
};

/** What is reported where a selection leaves no entry: that nothing is wrong would say too much. */
function noneCheckedText(none: NonNullable<CheckResult['noneSelected']>, { paint }: Look): string {
  const sign = none === 'changes' ? paint.good(glyphs.fine) : paint.warn(glyphs.warn);
  return `${sign} ${paint.strong(sayNoneChecked[none])}: nothing was checked\n`;
}

/** A check of which {@link checkShown} is printed: findings by entry, then a summary by kind of finding. Quiet when all is well. */
export function checkText(result: CheckResult, look: Look): string {
  if (result.mistakes.length > 0) return mistakesText(result, look);
  const totals = severitiesOf(result.summary);
  if (totals.errors + totals.warnings === 0) return quietText(result, look);
  if (result.findings.length === 0) return countedText(result, totals, look);
  return listedText(result, totals, look);
}

/** How many errors and warnings a check found. */
type Found = ReturnType<typeof severitiesOf>;

/** What was checked against what. */
const subjectOf = ({ entries, types, taxonomies }: CheckResult): string =>
  `${count(entries, 'entry', 'entries')} against ${count(types, 'type')} and ${count(taxonomies, 'taxonomy', 'taxonomies')}`;

const stateTextOf = ({ standing: state }: CheckResult, look: Look): string => {
  if (!state) return '';
  return contentStateText(state, look);
};

/** What is said where there is nothing to list. */
function quietText(result: CheckResult, look: Look): string {
  const { paint } = look;
  const { recorded, entries, noneSelected } = result;
  const good = paint.good(glyphs.fine);
  const aside = asideText(result, look);
  const stateText = stateTextOf(result, look);

  if (recorded !== undefined) {
    const text = paint.strong(`${count(recorded, 'finding')} recorded`);
    return `${good} ${text} in baseline.ndjson: from now on checks report only new findings\n${aside}${stateText}`;
  }

  if (result.stopped) return `${stoppedText(look)}  ${count(entries, 'entry', 'entries')} read so far, nothing wrong\n`;
  if (noneSelected) return noneCheckedText(noneSelected, look);
  const verdict = paint.strong(aside === '' ? 'All fine' : 'Nothing new');
  return `${good} ${verdict}: ${subjectOf(result)}\n${aside}${stateText}`;
}

/** How many findings there are, where they are not listed: the entries have not reached the model yet. */
const countedText = (result: CheckResult, totals: Found, look: Look): string =>
  [
    `${stateTextOf(result, look).trimStart()}\n`,
    `${verdictText(totals, look)}: ${subjectOf(result)}\n`,
    asideText(result, look),
    `${summaryTable(result, look)}\n`,
    next('lumbrik check --limit 50', 'to list them against the model as it is now', look),
  ].join('');

/** The findings, and how many of each kind there are. */
function listedText(result: CheckResult, totals: Found, look: Look): string {
  const { findings, standing: state, stopped } = result;
  const remaining = totals.errors + totals.warnings - findings.length;
  const groups = [...grouped(findings, ({ file, entry }) => `${file} ${entry ?? ''}`).values()];
  // What is wrong comes before what is to be recorded.
  const isFirst = totals.errors > 0 && state?.state === 'unrecorded';
  const stateText = isFirst ? '' : stateTextOf(result, look);

  return [
    groups.map((group) => `${fileText(group, look)}\n`).join('\n'),
    remaining > 0 ? `\n${look.paint.soft(`and ${count(remaining, 'finding')} more: lumbrik check --limit 0`)}\n` : '',
    `\n${stopped ? stoppedText(look) : ''}${verdictText(totals, look)}: ${subjectOf(result)}\n`,
    asideText(result, look),
    `${summaryTable(result, look)}\n`,
    stateText,
    totals.errors > 0 && stateText === '' ? next('lumbrik check', 'again, once these are mended', look) : '',
  ].join('');
}

const stoppedText = ({ paint }: Look): string =>
  `${paint.warn(glyphs.warn)} ${paint.strong('Stopped, as you asked')}: what shows only once all entries are known was not looked at\n`;

/** The kinds of finding, each with how many there are and what it means. */
function summaryTable({ summary }: CheckResult, look: Look): string {
  const rows = summary.map(({ finding, severity, count: number, about }) => [
    groupThousands(number),
    mark(severity, look),
    finding,
    look.paint.soft(about),
  ]);
  const columns = [
    { title: '', align: 'right' },
    { title: '' },
    { title: 'Finding' },
    { title: 'Meaning', flex: true },
  ] as const;
  return table(columns, rows, look);
}

/** How many errors and warnings a check found, where it found any. */
function verdictText({ errors, warnings }: Found, { paint }: Look): string {
  if (errors === 0) return `${paint.good(glyphs.fine)} ${paint.strong('No error')}, ${count(warnings, 'warning')}`;
  const added = warnings > 0 ? `, ${count(warnings, 'warning')}` : '';
  return `${paint.bad(glyphs.wrong)} ${paint.strong(count(errors, 'error'))}${added}`;
}

/** What was found and is not told, with the reasons; and what is no longer true of that. */
function asideText(result: CheckResult, { paint, width }: Look): string {
  const { declined, known: knownCount, gone: goneCount, ignored, maxWarnings } = result;
  const { warnings } = severitiesOf(result.summary);
  const lines = [
    ...declined.map(({ finding, at: address, because, count: number }) =>
      number > 0
        ? `${count(number, 'finding')} declined: ${paint.name(finding)} at ${address}, since ${because}`
        : paint.warn(`declined and not found any more: ${finding} at ${address}. Take it out of lumbrik.yaml.`),
    ),
    knownCount > 0 ? `${count(knownCount, 'finding')} known (baseline.ndjson)` : '',
    goneCount > 0
      ? `${count(goneCount, 'finding is', 'findings are')} gone: baseline.ndjson is shorter by ${goneCount === 1 ? 'it' : 'them'}`
      : '',
    ignored > 0 ? `${count(ignored, 'finding')} ignored, as lumbrik.yaml says` : '',
    maxWarnings !== undefined && warnings > maxWarnings
      ? paint.bad(
          `${count(warnings, 'warning')}, and at most ${maxWarnings} ${maxWarnings === 1 ? 'is' : 'are'} allowed`,
        )
      : '',
  ];

  return lines
    .filter(Boolean)
    .map((line) => `  ${paint.soft(glyphs.dot)} ${wrap(line, width - 4, '    ')}\n`)
    .join('');
}

/** The first findings of each name. */
function capped(findings: LocatedFinding[], limit: number): LocatedFinding[] {
  if (limit === 0) return findings;

  const counts = new Map<string, number>();
  return findings.filter(({ finding }) => {
    const number = (counts.get(finding) ?? 0) + 1;
    counts.set(finding, number);
    return number <= limit;
  });
}

const mark = (severity: LocatedFinding['severity'], { paint }: Look): string => {
  if (severity === 'error') return paint.bad(glyphs.wrong);
  return paint.warn(glyphs.warn);
};

function fileText(findings: readonly LocatedFinding[], look: Look): string {
  const { paint, width } = look;
  const [first] = findings;
  const title = `${paint.strong(first?.entry ?? first?.file ?? '')}${first?.entry === undefined ? '' : `  ${paint.soft(first.file)}`}`;
  const lines = findings.map((finding) => {
    const { severity, pointer, says: message, value, mend, line, column } = finding;
    const field = pointer === '' ? '' : `${paint.name(sayPointer(pointer))} `;
    const isPlain = typeof value === 'string' || typeof value === 'number';
    const isSaid = isPlain && (value === '' || message.includes(String(value)));
    const shown = isPlain && !isSaid ? paint.soft(` (${oneLine(value, 40)})`) : '';
    const demand = finding.origin === undefined ? '' : paint.soft(`, asked for at ${finding.origin}`);

    return [
      `  ${mark(severity, look)} ${wrap(`${field}${message}${shown}${demand}`, width - 4, '    ')}`,
      `    ${wrap(`${paint.soft(`${line}:${column} ${finding.finding}`)}  ${mend}`, width - 4, '    ')}`,
    ].join('\n');
  });

  return [title, ...lines].join('\n');
}

/** A line with a mark below the place in it; of a long one the part around that. */
function excerptLines(
  { line, column, excerpt }: Pick<CheckResult['mistakes'][number], 'line' | 'column' | 'excerpt'>,
  { paint, width }: Look,
): readonly string[] {
  const room = width - String(line).length - 5;
  const start = column > room ? column - Math.floor(room / 2) : 0;
  const part = `${start > 0 ? '…' : ''}${excerpt.slice(start > 0 ? start + 1 : 0)}`;
  return [
    `  ${paint.soft(`${line} │`)} ${clip(part, room)}`,
    `  ${paint.soft(`${' '.repeat(String(line).length)} │`)} ${' '.repeat(Math.max(0, column - 1 - start))}${paint.bad('^')}`,
  ];
}

function mistakesText({ mistakes }: CheckResult, look: Look): string {
  const { paint, width } = look;
  const lines = mistakes.map(({ file, line, column, says: message, mend, excerpt }) =>
    [
      `${paint.bad(glyphs.wrong)} ${wrap(message.charAt(0).toUpperCase() + message.slice(1), width - 2, '  ')}`,
      `  ${paint.soft(placeText({ file, line, column }))}`,
      ...(excerpt.trim() === '' ? [] : [...excerptLines({ line, column, excerpt }, look)]),
      `  ${wrap(mend, width - 2, '  ')}\n`,
    ].join('\n'),
  );

  return `${lines.join('\n')}\n${paint.bad(glyphs.wrong)} ${paint.strong(`${count(mistakes.length, 'mistake')} in the model`)}: no entry was looked at\n${next('lumbrik check', 'once they are mended', look)}`;
}
