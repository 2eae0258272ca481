import { isName } from '../../core/definition/address.ts';
import { cellOf, isFormula, listSeparator } from '../../core/plain/cells.ts';
import { compact } from '../../core/plain/json.ts';
import { shellWord } from '../../core/plain/shellWord.ts';
import { count, groupThousands, list } from '../../core/plain/words.ts';
import type { ListResult } from '../../tasks/list.ts';
import { type Column, glyphs, type Look, next, oneLine, table } from '../look.ts';
import widthOf from '../width.ts';
import { unreadText } from './unread.ts';

/** No cell is wider; one that is requested among many may have to be narrower. */
const [widest, narrowest] = [32, 6];

/** Entries in rows and columns: those that were requested, or as many of the telling ones as have room. */
export function listText(result: ListResult, look: Look): string {
  const { about, where, columns, areChosen, entries, rows, unreadable } = result;
  const { paint } = look;
  const heading = `${listHeading(result, look)}\n`;
  const missed = unreadText(unreadable, look);
  if (rows.length === 0) return heading + missed;

  const remaining = entries - rows.length;
  const more = remaining > 0 ? `  ${paint.soft(`and ${groupThousands(remaining)} more (--limit 0 lists all)`)}\n` : '';
  const command = [
    'lumbrik list',
    about && shellWord(about),
    where && `--where ${shellWord(where)}`,
    areChosen && `--columns ${shellWord(columns.map(({ name }) => name).join(','))}`,
    '--format csv',
  ];
  const hint = next(command.filter(Boolean).join(' '), 'as a table for other programs', look);

  return `${heading}\n${tableText(result, look)}\n${more}${missed}${hint}`;
}

/** That a spreadsheet would compute some cells of a table, if it would. */
export function formulasText({ rows, about }: ListResult, look: Look): string {
  const cells = rows.flatMap(({ values }) => Object.values(values).map((value) => cellOf(value, listSeparator)));
  const formulas = cells.filter(isFormula).length;
  if (formulas === 0) return '';
  const { paint } = look;
  const type = about !== undefined && isName(about) ? `${about} ` : '';
  return `${paint.warn(glyphs.warn)} ${count(formulas, 'cell')} begin${formulas === 1 ? 's' : ''} with =, +, - or @: a spreadsheet computes ${formulas === 1 ? 'it' : 'them'}\n${next(`lumbrik export entries ${type}--as csv --guard`, 'puts an apostrophe before each', look)}`;
}

/** How many entries are listed, and of what. */
export function listHeading({ about, where, entries, of: total }: ListResult, { paint }: Look): string {
  const subject = [about, where && `where ${where}`].filter(Boolean).join(', ');
  const number =
    entries === total
      ? count(entries, 'entry', 'entries')
      : `${groupThousands(entries)} of ${count(total, 'entry', 'entries')}`;

  return `${paint.strong(number)}${subject === '' ? '' : `  ${paint.name(subject)}`}`;
}

interface Table {
  readonly title: string;
  /** A line for each row. */
  readonly rows: readonly string[];
  /** Columns that had no room. */
  readonly left: readonly string[];
}

function tableText(result: ListResult, look: Look): string {
  const { title, rows, left: remaining } = listTable(result, look);
  const note = remaining.length > 0 ? `\n  ${look.paint.soft(`no room for ${list(remaining)}`)}` : '';
  return [title, ...rows].join('\n') + note;
}

/** Rows in their columns, line by line. */
export function listTable({ columns, areChosen, rows }: ListResult, look: Look): Table {
  const first = Math.max(widthOf('Entry'), ...rows.map(({ entry }) => Math.min(widthOf(entry), 40)));
  const cells = columns.map(({ name, label, isNumber }) => {
    const texts = rows.map(({ says: definition }) => oneLine(definition[name] ?? '', widest).replace(/^""$/u, ''));
    return { name, label, isNumber, texts, width: Math.max(widthOf(label), ...texts.map(widthOf)) };
  });
  const room = look.width - 2 - first;
  const fitting = areChosen
    ? cells.slice(0, Math.floor(room / (narrowest + 2)))
    : cells.filter((_, index) => widthOfAll(cells.slice(0, index + 1)) <= room);
  const share = Math.floor(room / Math.max(1, fitting.length)) - 2;
  const isTight = widthOfAll(fitting) > room;
  const titles: readonly Column[] = [
    { title: 'Entry' },
    ...fitting.map(({ isNumber, label }) =>
      compact({
        title: isTight ? oneLine(label, share) : label,
        align: isNumber ? ('right' as const) : undefined,
      }),
    ),
  ];
  const lines = rows.map(({ entry }, row) => [
    look.paint.name(oneLine(entry, 40)),
    ...fitting.map(({ texts }) =>
      isTight ? oneLine(texts[row] ?? '', share).replace(/^""$/u, '') : (texts[row] ?? ''),
    ),
  ]);
  const [title = '', ...drawn] = table(titles, lines, look).split('\n');

  return { title, rows: drawn, left: areChosen ? cells.slice(fitting.length).map(({ name }) => name) : [] };
}

const widthOfAll = (cells: readonly { readonly width: number }[]): number =>
  cells.reduce((sum, { width }) => sum + width + 2, 0);
