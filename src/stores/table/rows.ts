import type { Outcome } from '../../core/plain/outcome.ts';
/** A row of a table as its text has it: from where to where, without what ends it. In characters. */
export interface Row {
  readonly start: number;
  readonly end: number;
  readonly line: number;
  readonly cells: readonly Cell[];
}

interface Cell {
  /** From where to where it stands, with its quotes. */
  readonly start: number;
  readonly end: number;
  /** What it says, without them. */
  readonly text: string;
  /** Whether it is quoted. */
  readonly isQuoted: boolean;
}

/** Why a text is no table. */
export interface NoTable {
  readonly line: number;
  readonly says: string;
  readonly mend: string;
}

/**
 * The rows of a table (RFC 4180), each with where its cells stand, so that one can be written without touching the others.
 * Line ends may be those of any system; empty lines are no rows.
 */
export function rowsOf(text: string, delimiter: string): Outcome<readonly Row[], NoTable> {
  const rows: Row[] = [];
  let at = text.startsWith('\uFEFF') ? 1 : 0;
  let line = 1;
  while (at < text.length) {
    const start = at;
    const first = line;
    const cells: Cell[] = [];
    for (;;) {
      const cell = cellAt(text, at, delimiter);
      if (cell === undefined)
        return {
          problem: {
            line: first,
            says: 'opens a quote and never closes it',
            mend: 'Close it; a quote inside quotes is written twice.',
          },
        };
      cells.push(cell);
      for (let feed = text.indexOf('\n', cell.start); feed >= 0 && feed < cell.end; feed = text.indexOf('\n', feed + 1))
        line += 1;
      at = cell.end;
      if (text[at] !== delimiter) break;
      at += 1;
    }
    const end = at;
    if (at < text.length && text[at] !== '\n' && text[at] !== '\r')
      return {
        problem: {
          line,
          says: 'has characters behind a closing quote',
          mend: 'Write a quote inside quotes twice: "".',
        },
      };
    if (text[at] === '\r' && text[at + 1] === '\n') at += 2;
    else if (at < text.length) at += 1;
    line += 1;
    const isEmpty = cells.length === 1 && cells[0]?.text === '' && !cells[0].isQuoted;
    if (!isEmpty) rows.push({ start, end, line: first, cells });
  }
  return { value: rows };
}

function cellAt(text: string, start: number, delimiter: string): Cell | undefined {
  if (text[start] !== '"') {
    let end = start;
    while (end < text.length && text[end] !== delimiter && text[end] !== '\n' && text[end] !== '\r') end += 1;
    return { start, end, text: text.slice(start, end), isQuoted: false };
  }
  for (let close = text.indexOf('"', start + 1); close >= 0; close = text.indexOf('"', close + 2))
    if (text[close + 1] !== '"')
      return { start, end: close + 1, text: text.slice(start + 1, close).replaceAll('""', '"'), isQuoted: true };
  return undefined;
}

/** What stands between the cells of a table: the sign that is most frequent in its first row, outside quotes. */
export function delimiterIn(text: string, file: string): string {
  if (/\.tsv$/iu.test(file)) return '\t';
  const [first = ''] = text.replaceAll(/"(?:[^"]|"")*"/gu, '').split(/\r?\n/u, 1);
  const counts = [',', ';', '\t', '|'].map((sign) => ({ sign, count: first.split(sign).length - 1 }));
  return counts.reduce((best, one) => (one.count > best.count ? one : best)).sign;
}
