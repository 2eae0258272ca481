import picocolors from 'picocolors';
import { type Json, parsePointer } from '../core/plain/json.ts';
import { toPlain } from '../core/text/plain.ts';
import { isTree } from '../core/text/tree.ts';
import widthOf from './width.ts';

/** How results are set for a person: a few colours with one meaning each, and a width. See docs/contributing/looks.md. */
export interface Look {
  /** Characters to a line. */
  readonly width: number;
  readonly paint: Paint;
}

type Brush = (text: string) => string;

/** Colours by meaning, never by name: anyone who writes a view says what a text is. */
interface Paint {
  /** The first thing to read. */
  readonly strong: Brush;
  /** What can be skipped: places, headings of columns, reasons. */
  readonly soft: Brush;
  /** An address, a command, the name of a file: what can be typed again. */
  readonly name: Brush;
  /** Fine, new. */
  readonly good: Brush;
  /** Not held against anybody yet; a choice is left. */
  readonly warn: Brush;
  /** Wrong, lost, breaking. */
  readonly bad: Brush;
}

const widest = 100;

interface Terminal {
  readonly isTTY?: boolean | undefined;
  readonly columns?: number | undefined;
}

/** The look that fits a stream: colours where it is a terminal that has them and nobody said no. */
export function lookFor(stream: Terminal, color: boolean | undefined): Look {
  const { env } = process;
  const isColored = color ?? (env.FORCE_COLOR !== undefined && env.FORCE_COLOR !== '0' ? true : undefined);
  const isOff = color === false || (env.NO_COLOR !== undefined && env.NO_COLOR !== '');
  const colors = picocolors.createColors(!isOff && (isColored ?? (stream.isTTY === true && env.TERM !== 'dumb')));

  return {
    width: Math.min(widest, stream.isTTY ? stream.columns || widest : widest),
    paint: {
      strong: colors.bold,
      soft: colors.dim,
      name: colors.cyan,
      good: colors.green,
      warn: colors.yellow,
      bad: colors.red,
    },
  };
}

/** Glyphs with a meaning each; {@link toAscii} has a plain form for all of them. */
export const glyphs = {
  fine: '✓',
  wrong: '✗',
  warn: '▲',
  arrow: '→',
  next: '›',
  dot: '·',
  branch: '├─ ',
  last: '└─ ',
  pipe: '│  ',
} as const;

const plainForms: Readonly<Record<string, string>> = {
  '✓': 'ok',
  '✗': 'x',
  '▲': '!',
  '→': '->',
  '›': '>',
  '·': '-',
  '├': '|',
  '─': '-',
  '└': '`',
  '│': '|',
  '⇄': '<->',
  '⇢': '~>',
  '“': '"',
  '”': '"',
  '–': '-',
  '—': '-',
  '…': '...',
  '≤': '<=',
  '≥': '>=',
  '×': 'x',
  '¶': '|',
  '≈': '~',
  '−': '-',
  '━': '=',
  '╸': '-',
};

/** A text in letters that every terminal has, for those that say they have no others. */
export const toAscii = (text: string): string =>
  text.replace(/[✓✗▲→›·├─└│⇄⇢“”–—…≤≥×¶━╸≈−]/gu, (glyph) => plainForms[glyph] ?? glyph);

/** Whether the terminal's language settings rule out anything but ASCII. */
export function isAsciiOnly({ LC_ALL, LC_CTYPE, LANG, TERM }: NodeJS.ProcessEnv): boolean {
  if (TERM === 'linux') return true;
  const locale = LC_ALL || LC_CTYPE || LANG;
  return locale !== undefined && locale !== '' && !/utf-?8/iu.test(locale);
}

/* ── setting text ────────────────────────────────────────────────────────────────────────────────────────────── */

/** Pads a text on the right to a width that counts what the eye sees. */
export const padRight = (text: string, width: number): string => text + ' '.repeat(Math.max(0, width - widthOf(text)));
const padLeft = (text: string, width: number): string => ' '.repeat(Math.max(0, width - widthOf(text))) + text;

/** Breaks a text between words; the lines after the first are set in by `indent`. */
export function wrap(text: string, width: number, indent = ''): string {
  const lines: string[] = [];
  let line = '';
  for (const word of text.split(/ +/u)) {
    const longer = line === '' ? word : `${line} ${word}`;
    const room = width - (lines.length > 0 ? indent.length : 0);
    if (line !== '' && widthOf(longer) > room) {
      lines.push(line);
      line = word;
    } else line = longer;
  }

  return [...lines, line].join(`\n${indent}`);
}

/** Cuts a text to a width, with an ellipsis where something is missing. */
export function clip(text: string, width: number): string {
  // No line needs more of a text: of letters that have no width of their own, a few thousand are enough.
  const start = text.slice(0, 20 * width);
  if (start === text && widthOf(text) <= width) return text;

  let cut = '';

  for (const letter of start) {
    if (widthOf(cut + letter) > width - 1) break;
    cut += letter;
  }

  return `${cut.trimEnd()}…`;
}

/** A JSON Pointer as a person reads it: `/about/1` is `about, item 2`. */
export const sayPointer = (pointer: string): string =>
  parsePointer(pointer)
    .map((part, index) =>
      index > 0 && /^\d+$/u.test(part) ? `, item ${Number(part) + 1}` : `${index > 0 ? '.' : ''}${part}`,
    )
    .join('');

/** A value on one line: texts as they are, structured text by its content after a `¶`, empty ones and the rest as JSON. */
export function oneLine(value: unknown, width: number): string {
  return clip(textOf(value) ?? '', width);
}

function textOf(value: unknown): string | undefined {
  if (typeof value === 'string' && value !== '') return value.replace(/\s+/gu, ' ');
  const tree = value as Json | undefined;
  if (isTree(tree)) return `¶ ${toPlain(tree).replace(/\s+/gu, ' ')}`;
  const isTexts = Array.isArray(value) && value.length > 0 && value.every((item) => typeof item === 'string');
  if (isTexts) return value.join(', ');
  return JSON.stringify(value);
}

/** A column of a table for people. */
export interface Column {
  readonly title: string;
  readonly align?: 'right';
  /** Takes the room that is left, and breaks between words. One column at most. */
  readonly flex?: true;
}

/** A table without lines: columns two spaces apart under soft titles, numbers on the right. */
export function table(
  columns: readonly Column[],
  rows: readonly (readonly string[])[],
  { width, paint }: Look,
  indent = '  ',
): string {
  const widths = columns.map(({ title }, index) =>
    Math.max(widthOf(title), ...rows.map((row) => widthOf(row[index] ?? ''))),
  );
  const flexAt = columns.findIndex(({ flex }) => flex);

  if (flexAt >= 0) {
    const otherWidths = widths.reduce((sum, width, index) => sum + (index === flexAt ? 0 : width), 0);
    widths[flexAt] = Math.max(
      16,
      Math.min(widths[flexAt] ?? 0, width - indent.length - otherWidths - 2 * (columns.length - 1)),
    );
  }

  const lineWidth = indent.length + widths.reduce((sum, width) => sum + width, 0) + 2 * (columns.length - 1);
  if (lineWidth > width && width < widest)
    return rows.map((row) => record(columns, row, { width, paint }, indent)).join('\n');

  const set = (cells: readonly string[]): string => {
    const lines = cells.map((cell, index) => (index === flexAt ? wrap(cell, widths[index] ?? 0).split('\n') : [cell]));
    const height = Math.max(...lines.map(({ length }) => length));

    return Array.from({ length: height }, (_, line) =>
      (
        indent +
        cells
          .map((_cell, index) => {
            const text = lines[index]?.[line] ?? '';
            const room = widths[index] ?? 0;
            if (columns[index]?.align === 'right') return padLeft(text, room);
            return padRight(text, room);
          })
          .join('  ')
      ).trimEnd(),
    ).join('\n');
  };

  const titles = columns.map(({ title }, index) =>
    paint.soft(columns[index]?.align === 'right' ? padLeft(title, widths[index] ?? 0) : title),
  );

  return [set(titles), ...rows.map(set)].join('\n');
}

/** A row for which a terminal is too narrow: its first cells in a line, and below it each of the others behind its title. */
function record(columns: readonly Column[], cells: readonly string[], { width, paint }: Look, indent: string): string {
  const isFilled = (cell: string): boolean => widthOf(cell.trim()) > 0;
  const behind = columns.findIndex(({ title }) => title !== '') + 1;
  const first = cells.slice(0, behind).filter(isFilled);
  const lines = [indent + first.map((cell) => cell.trim()).join('  ')].filter(isFilled);

  for (const [index, cell] of cells.slice(behind).entries()) {
    const title = columns[behind + index]?.title ?? '';
    if (!isFilled(cell)) continue;
    // What has no title belongs to the text before it.
    if (title === '' && lines.length > 0) lines.push(`${lines.pop()}  ${cell.trim()}`);
    else lines.push(`${indent}  ${title === '' ? '' : `${paint.soft(title)}  `}${cell.trim()}`);
  }

  return lines.map((line) => brokenLine(line, width)).join('\n');
}

/** A text for a narrow terminal: what is wider than it goes on below, set in by two more than the line began. */
export function fitted(text: string, { width }: Look): string {
  if (width >= widest) return text;
  return text
    .split('\n')
    .map((line) => (widthOf(line) > width ? brokenLine(line, width) : line))
    .join('\n');
}

function brokenLine(line: string, width: number): string {
  const start = /^ */u.exec(line)?.[0] ?? '';
  const [first = '', ...words] = line.slice(start.length).split(/( +)/u);
  const lines: string[] = [];
  let column = start + first;

  for (let index = 0; index + 1 < words.length; index += 2) {
    const [blank = '', word = ''] = words.slice(index, index + 2);
    if (widthOf(column + blank + word) <= width) column += blank + word;
    else {
      lines.push(column);
      column = `${start}  ${word}`;
    }
  }

  return [...lines, column].join('\n');
}

/** The same without titles. @param rights which columns are on the right. */
export function alignedRows(rows: readonly (readonly string[])[], rights: readonly boolean[], indent = '  '): string {
  const widths = (rows[0] ?? []).map((_, index) => Math.max(...rows.map((row) => widthOf(row[index] ?? ''))));
  const set = (text: string, index: number): string => {
    if (rights[index]) return padLeft(text, widths[index] ?? 0);
    return padRight(text, widths[index] ?? 0);
  };
  return rows.map((row) => (indent + row.map(set).join('  ')).trimEnd()).join('\n');
}

/** The next useful command, offered below a result; why stands below it where both have no room in a line. */
export function next(command: string, reason: string, { width, paint }: Look): string {
  const between = widthOf(command) + widthOf(reason) + 4 > width ? '\n  ' : '  ';
  return `\n${paint.soft(glyphs.next)} ${paint.name(command)}${between}${paint.soft(reason)}\n`;
}
