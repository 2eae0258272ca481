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
  /** Its content, without them. */
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
  let index = text.startsWith('\uFEFF') ? 1 : 0;
  let line = 1;
  while (index < text.length) {
    const start = index;
    const first = line;
    const cells: Cell[] = [];
    for (;;) {
      const cell = cellAt(text, index, delimiter);
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
      index = cell.end;
      if (text[index] !== delimiter) break;
      index += 1;
    }

    const end = index;
    if (index < text.length && text[index] !== '\n' && text[index] !== '\r')
      return {
        problem: {
          line,
          says: 'has characters behind a closing quote',
          mend: 'Write a quote inside quotes twice: "".',
        },
      };

    if (text[index] === '\r' && text[index + 1] === '\n') index += 2;
    else if (index < text.length) index += 1;
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

/** The row that names the columns of a table, what each is called, and the rows below it. */
export interface HeadedRows {
  readonly header: Row;
  readonly columns: readonly string[];
  readonly rows: readonly Row[];
}

/**
 * The names of a table's columns, which are in its first row, or in the one below a heading: a first row with one cell
 * that says something, above one with several. A column without a name is called by its place, `column-3`: the text
 * in it is read like anything else.
 * @returns nothing of a table without rows.
 */
export function headedRows(allRows: readonly Row[]): HeadedRows | undefined {
  const [first, second] = allRows;
  const isHeading = first !== undefined && second !== undefined && filledIn(first) === 1 && filledIn(second) > 1;
  const [header, ...rows] = isHeading ? allRows.slice(1) : allRows;
  if (!header) return undefined;

  const names = header.cells.map(({ text }) => text.trim());
  const columns = names.map((name, index) => (name === '' ? freeName(`column-${index + 1}`, names) : name));
  return { header, columns, rows };
}

const filledIn = ({ cells }: Row): number => cells.filter(({ text }) => text.trim() !== '').length;

const freeName = (name: string, usedNames: readonly string[]): string => {
  if (!usedNames.includes(name)) return name;
  return freeName(`${name}-`, usedNames);
};

/** The text between the cells of a table: the sign that is most frequent in its first row that has one, outside quotes. */
export function delimiterIn(text: string, file: string): string {
  if (/\.tsv$/iu.test(file)) return '\t';
  const lines = text.replaceAll(/"(?:[^"]|"")*"/gu, '').split(/\r?\n/u, 3);
  const signs = [',', ';', '\t', '|'];
  const line = lines.find((line) => signs.some((sign) => line.includes(sign))) ?? '';
  const counts = signs.map((sign) => ({ sign, count: line.split(sign).length - 1 }));
  return counts.reduce((best, count) => (count.count > best.count ? count : best)).sign;
}
