import { cellValue } from '../../core/model/cells.ts';
import { cellOf, written } from '../../core/plain/cells.ts';
import { equal, type Json } from '../../core/plain/json.ts';
import type { WholeRead } from '../manyInFile.ts';
import { partsOf } from './cells.ts';
import type { Row } from './rows.ts';

/** A table that was read. */
export interface Table extends WholeRead {
  readonly text: string;
  readonly delimiter: string;
  readonly header: Row;
  readonly columns: readonly string[];
  readonly rows: readonly Row[];
}

/** The outcome for the rows of a table: values by columns. */
export interface TableChanges {
  /** By where rows start; nothing where one is removed. */
  readonly rewritten: ReadonlyMap<number, ReadonlyMap<string, Json> | undefined>;
  readonly added: readonly ReadonlyMap<string, Json>[];
  /** Columns that got other names. */
  readonly renamed: ReadonlyMap<string, string>;
}

/** The text of a table after some changes: rows that are not touched, and cells that say the same, stay as they are written. */
export function writtenTable(table: Table, changes: TableChanges, separator: string): string {
  const { text, header, rows, delimiter } = table;
  const columns = columnsAfter(table, changes);
  const isSame =
    columns.length === table.columns.length &&
    columns.every(({ name, from }, index) => from === index && name === table.columns[index]);
  const pieces: string[] = [];
  let position = 0;

  const put = (row: Row, become: string | undefined): void => {
    pieces.push(text.slice(position, row.start), become ?? '');
    position = become === undefined ? endOfLine(text, row.end) : row.end;
  };

  if (!isSame) put(header, headerText(table, columns));

  for (const row of rows) {
    const values = changes.rewritten.get(row.start);
    const isTouched = changes.rewritten.has(row.start);
    if (isTouched && !values) put(row, undefined);
    else if (isTouched || !isSame)
      put(row, columns.map((column) => cellText(table, row, column, values && { values, separator })).join(delimiter));
  }

  pieces.push(text.slice(position));

  return withRows(pieces.join(''), changes.added, (values) =>
    columns.map(({ name }) => written(cellOf(values.get(name), separator), delimiter, false)).join(delimiter),
  );
}

function withRows(
  text: string,
  added: TableChanges['added'],
  rowText: (values: ReadonlyMap<string, Json>) => string,
): string {
  if (added.length === 0) return text;
  const eol = text.includes('\r\n') ? '\r\n' : '\n';
  const start = /[\r\n]$/u.test(text) ? '' : eol;
  return `${text}${start}${added.map((values) => rowText(values) + eol).join('')}`;
}

const headerText = ({ text, header, columns, delimiter }: Table, after: readonly Column[]): string =>
  after
    .map(({ name, from }) => {
      const old = from === undefined ? undefined : header.cells[from];
      if (old && from !== undefined && columns[from] === name) return text.slice(old.start, old.end);
      return written(name, delimiter, old?.isQuoted === true);
    })
    .join(delimiter);

/** The text of a cell of a row; as it is where the row is not touched, or says the same. */
function cellText(
  { text, delimiter }: Table,
  row: Row,
  { name, from }: Column,
  become: { readonly values: ReadonlyMap<string, Json>; readonly separator: string } | undefined,
): string {
  const old = from === undefined ? undefined : row.cells[from];
  const as = old ? text.slice(old.start, old.end) : '';
  if (!become) return as;

  const value = become.values.get(name);
  const fresh = cellOf(value, become.separator);
  if (old && (fresh === old.text.trim() || saysTheSame(old.text, value, become.separator))) return as;
  return written(fresh, delimiter, old?.isQuoted === true);
}

/** Whether a cell says a value already, in another way of writing it. */
const saysTheSame = (cell: string, value: Json | undefined, separator: string): boolean =>
  value !== undefined &&
  (['number', 'boolean', 'json', 'text'] as const).some((form) =>
    [false, true].some((many) => equal(cellValue(cell, { is: form, many }, separator), value)),
  );

/** A column as it is afterwards, and which it was. */
interface Column {
  readonly name: string;
  readonly from: number | undefined;
}

/**
 * The columns of a table after some changes: those that no row needs any more are gone where a change emptied them, those
 * that come are where the ones stood that they were, or at the end.
 */
function columnsAfter({ columns, rows }: Table, changes: TableChanges): readonly Column[] {
  const needed = new Set<string>();
  const emptied = new Set<string>();
  for (const values of [...changes.rewritten.values(), ...changes.added])
    for (const name of values?.keys() ?? []) needed.add(name);
  for (const row of rows) {
    const values = changes.rewritten.get(row.start);
    const isTouched = changes.rewritten.has(row.start);
    for (const [index, name] of columns.entries()) {
      const isFilled = (row.cells[index]?.text ?? '') !== '';
      if (!isTouched && isFilled) needed.add(name);
      if (isTouched && isFilled && values && !values.has(name)) emptied.add(name);
    }
  }

  const emptyColumns = new Set(columns.filter((name) => emptied.has(name) && !needed.has(name)));
  const come = [...needed].filter((name) => !columns.includes(name));
  const usedNames = new Set<string>();
  const keptColumns = columns.flatMap((name, from): readonly Column[] => {
    if (!emptyColumns.has(name)) return [{ name, from }];
    const to = renamedColumn(name, changes.renamed);
    if (to === undefined || !come.includes(to) || usedNames.has(to)) return [];
    usedNames.add(to);
    return [{ name: to, from }];
  });

  return [...keptColumns, ...come.filter((name) => !usedNames.has(name)).map((name) => ({ name, from: undefined }))];
}

/** What a column is called now that a field is which it stands for, or for a part of it: `name.en` of `name`. */
function renamedColumn(name: string, renamed: TableChanges['renamed']): string | undefined {
  const keys = partsOf(name);
  for (let length = keys.length; length > 0; length -= 1) {
    const to = renamed.get(keys.slice(0, length).join('.'));
    if (to !== undefined) return [to, ...keys.slice(length)].join('.');
  }

  return undefined;
}

/** Where the next line begins. */
function endOfLine(text: string, end: number): number {
  if (text[end] === '\r' && text[end + 1] === '\n') return end + 2;
  return Math.min(text.length, end + 1);
}
