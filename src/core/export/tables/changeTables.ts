import { type KeptTable, type MatchedTables, matchTables, type Renamed } from './matchTables.ts';
import { inOrder, type Named, renamesText } from './renamed.ts';
import { retiredText, retypedText } from './retype.ts';
import { cellText, namesText, nameText, textLiteral } from './sqlText.ts';
import {
  columnCommentText,
  commentsText,
  enumerationText,
  foreignKeyText,
  insertText,
  nameOfType,
  tableCommentText,
  tableText,
} from './statements.ts';
import type { Cell, Enumeration, Row, Table } from './table.ts';
import { TableGuard } from './tableGuard.ts';
import type { Tables } from './tablesOf.ts';

/** What turns the tables of one model, and the rows in them, into those of another. */
export class TableChange {
  readonly #matched: MatchedTables;
  /** The tables after, by their names. */
  readonly #tables: ReadonlyMap<string, Table>;
  /** Tables that stay, by their old names. */
  readonly #kept: ReadonlyMap<string, KeptTable>;
  /** The enumerations after, by their names. */
  readonly #enumerations: ReadonlyMap<string, Enumeration>;

  constructor(before: Tables, after: Tables, renames: readonly Renamed[]) {
    this.#tables = new Map(after.tables.map((table) => [table.name, table]));
    this.#matched = matchTables(before, after, renames);
    this.#kept = new Map(this.#matched.keptTables.map((keptTable) => [keptTable.oldTable.name, keptTable]));
    this.#enumerations = new Map(after.enumerations.map((enumeration) => [enumeration.name, enumeration]));
  }

  /** What says whether the tables hold what the entries had, before anything is changed in them. */
  guard(): TableGuard {
    const { keptTables, removedTables } = this.#matched;
    const losing = new Set([...removedTables, ...keptTables.filter(isLosing).map(({ oldTable }) => oldTable)]);
    return new TableGuard([...removedTables, ...keptTables.map(({ oldTable }) => oldTable)], losing);
  }

  /** How many tables are changed where they stand, made anew with all their rows, or gone. */
  counts(): { readonly kept: number; readonly made: number; readonly gone: number } {
    const { keptTables, come, removedTables } = this.#matched;
    const isMade = new Set(come.map(({ name }) => name));
    return {
      kept: keptTables.filter(isAltered).length,
      made: come.length,
      gone: removedTables.filter(({ name }) => !isMade.has(name)).length,
    };
  }

  /** Statements that come before rows are changed: removed, renamed and new parts, but for keys. */
  begin(): string {
    const { keptTables, removedTables, come, keptTypes, grownTypes, goneTypes, comeTypes } = this.#matched;
    return [
      ...keptTables.flatMap(({ oldTable, retired }) => retiredText(oldTable, retired)),
      dropTablesText(removedTables, keptTables),
      ...keptTables.flatMap(droppedColumns),
      ...[...grownTypes.map(([oldEnumeration]) => oldEnumeration), ...goneTypes].map(
        ({ name }) => `alter type ${nameText(name)} rename to ${nameText(outgrown(name))};\n`,
      ),
      ...renamesText('alter type', keptTypes),
      ...renamesText(
        'alter table',
        keptTables.map(({ oldTable, newTable }) => [oldTable, newTable]),
      ),
      ...comeTypes.map(enumerationText),
      ...grownTypes.flatMap((pair) => grownText(pair, keptTables)),
      ...keptTables.flatMap(alteredColumns),
      ...keptTables.flatMap(({ newTable, retyped }) =>
        retyped.flatMap((retyped) => retypedText(newTable.name, retyped, this.#enumerations)),
      ),
      ...goneTypes.map(({ name }) => `drop type ${nameText(outgrown(name))};\n`),
      ...come.map(tableText),
    ].join('');
  }

  /** Statements after all rows: keys, conditions and comments. */
  finish(): string {
    const { keptTables, come } = this.#matched;
    const isNew = new Set(come.map(({ name }) => name));

    return [
      // What refers to other rows is looked at now: a table with something left to look at cannot be altered.
      'set constraints all immediate;\n',
      ...keptTables.flatMap(addedKeys),
      ...come.flatMap((table) => table.foreignKeys.map((key) => foreignKeyText(table, key))),
      ...keptTables.flatMap(({ newTable, foreignKeys }) =>
        newTable.foreignKeys
          .filter((key) => isNew.has(key.table) || foreignKeys.includes(key))
          .map((key) => foreignKeyText(newTable, key)),
      ),
      ...come.flatMap(commentsText),
      ...keptTables.flatMap(changedComments),
    ].join('');
  }

  /** Statements that take out rows of tables that stay. */
  deletes(oldRows: readonly Row[], newRows: readonly Row[]): string {
    const { gone: removed } = this.#compared(oldRows, newRows);
    return [...removed].map(({ row, table }) => deleteText(table, row)).join('');
  }

  /** Statements that put in rows that were not there. */
  inserts(oldRows: readonly Row[], newRows: readonly Row[]): string {
    const { come, changed } = this.#compared(oldRows, newRows);
    return changed.map(updateText).join('') + insertText(come);
  }

  /** The rows of an entry before and after, distinguished: removed, new and changed rows. */
  #compared(oldRows: readonly Row[], newRows: readonly Row[]) {
    const newByKey = new Map(newRows.map((row) => [keyOf(this.#tables.get(row.table), row), row]));
    const removed: { readonly row: Row; readonly table: Table }[] = [];
    const changed: Changed[] = [];
    for (const row of oldRows) {
      const keptTable = this.#kept.get(row.table);
      if (!keptTable) continue;

      const renamedRow = rowAfter(row, keptTable);
      const key = keyOf(keptTable.newTable, renamedRow);
      const other = newByKey.get(key);
      const cells = other && differing(renamedRow, other);
      // Unique values are removed before they are inserted elsewhere.
      if (!cells || [...cells.keys()].some((name) => isInKey(keptTable.newTable, name)))
        removed.push({ row: renamedRow, table: keptTable.newTable });
      else {
        newByKey.delete(key);
        if (cells.size > 0) changed.push({ table: keptTable.newTable, row: renamedRow, cells });
      }
    }

    return { gone: removed, changed, come: [...newByKey.values()] };
  }
}

const isAltered = ({ oldTable, newTable, columns, retired, ...rest }: KeptTable): boolean => {
  const { dropped, added, retyped, needs, checks, unique, foreignKeys } = rest;
  return (
    oldTable.name !== newTable.name ||
    [...columns].some(([from, to]) => from !== to) ||
    [dropped, added, retyped, needs, checks, unique, foreignKeys].some((some) => some.length > 0) ||
    Object.values(retired).some((some) => some.length > 0)
  );
};

/** Whether values of a table go, or are of another type. */
const isLosing = ({ dropped, retyped }: KeptTable): boolean =>
  dropped.length > 0 || retyped.some(({ isConverted }) => isConverted);

interface Changed {
  readonly table: Table;
  readonly row: Row;
  /** Its content now, where that is something else; nothing is what a column has of itself. */
  readonly cells: ReadonlyMap<string, Cell | undefined>;
}

/**
 * Drops tables, and before them the keys of our own tables that lead to them. What others made on them (a view, a key)
 * stops it, and the database names it.
 */
function dropTablesText(removedTables: readonly Table[], keptTables: readonly KeptTable[]): string {
  if (removedTables.length === 0) return '';

  const named = (tables: readonly Named[]): string =>
    tables.map(({ name }) => `${textLiteral(nameText(name))}::regclass`).join(', ');

  return [
    'do $keys$ declare key record; begin\n',
    `  for key in select conrelid::regclass as holder, conname from pg_constraint where contype = 'f'\n`,
    `    and confrelid in (${named(removedTables)})\n`,
    `    and conrelid in (${named([...removedTables, ...keptTables.map(({ oldTable }) => oldTable)])}) loop\n`,
    `    execute format('alter table %s drop constraint %I', key.holder, key.conname);\n`,
    '  end loop;\nend $keys$;\n',
    `drop table ${namesText(removedTables.map(({ name }) => name))};\n`,
  ].join('');
}

const droppedColumns = ({ oldTable, dropped }: KeptTable): readonly string[] =>
  dropped.map(({ name }) => `alter table ${nameText(oldTable.name)} drop column ${nameText(name)};\n`);

/** What an enumeration is called until its columns have more values. */
const outgrown = (name: string): string => `${name.slice(0, 50)}_was`;

/** An enumeration with more values: those that are new can be used at once, and all are in their order. */
function grownText(
  [oldEnumeration, newEnumeration]: readonly [Enumeration, Enumeration],
  keptTables: readonly KeptTable[],
): readonly string[] {
  const columns = keptTables.flatMap((table) =>
    table.oldTable.columns.flatMap(({ name, type }) =>
      type === oldEnumeration.name && table.columns.has(name) ? [[table.newTable.name, name] as const] : [],
    ),
  );
  return [
    enumerationText(newEnumeration),
    ...columns.map(
      ([table, column]) =>
        `alter table ${nameText(table)} alter column ${nameText(column)} type ${nameText(newEnumeration.name)} using ${nameText(column)}::text::${nameText(newEnumeration.name)};\n`,
    ),
    `drop type ${nameText(outgrown(oldEnumeration.name))};\n`,
  ];
}

/** Columns that have other names or come, in a table that has its new name now. */
function alteredColumns({ newTable, columns, added, needs }: KeptTable): readonly string[] {
  const table = `alter table ${nameText(newTable.name)}`;
  return [
    ...inOrder([...columns]).map(([from, to]) => `${table} rename column ${nameText(from)} to ${nameText(to)};\n`),
    ...needs
      .filter(({ isNeeded }) => !isNeeded)
      .map(({ name }) => `${table} alter column ${nameText(name)} drop not null;\n`),
    ...added.map(({ name, type, generated, default: initial }) => {
      const always = generated === undefined ? '' : ` generated always as (${generated}) stored`;
      const first = initial === undefined ? '' : ` default ${initial}`;
      return `${table} add column ${nameText(name)} ${nameOfType(type)}${always}${first};\n`;
    }),
  ];
}

/** New conditions of a table that stays, once its rows are right. */
function addedKeys({ newTable, needs, checks, unique }: KeptTable): readonly string[] {
  const table = `alter table ${nameText(newTable.name)}`;
  return [
    ...needs.flatMap(({ name, isNeeded }) =>
      isNeeded ? [`${table} alter column ${nameText(name)} set not null;\n`] : [],
    ),
    ...checks.map((check) => `${table} add check (${check});\n`),
    ...unique.map((key) => `${table} add unique (${namesText(key)});\n`),
  ];
}

/** Changed comments on a table that stays, and on its columns. */
function changedComments({ oldTable, newTable, columns }: KeptTable): readonly string[] {
  const oldComments = new Map(oldTable.columns.map(({ name, about }) => [columns.get(name), about]));
  return [
    ...(oldTable.about === newTable.about ? [] : [tableCommentText(newTable)]),
    ...newTable.columns.flatMap((column) =>
      (oldComments.get(column.name) ?? '') === column.about ? [] : [columnCommentText(newTable, column)],
    ),
  ];
}

/** A row under the names that its table has now, without what goes. */
function rowAfter({ cells }: Row, { newTable, columns, retyped }: KeptTable): Row {
  const newCells = new Map<string, Cell>();
  for (const [name, cell] of cells) {
    const column = columns.get(name);
    if (column !== undefined && !retyped.some((retyped) => retyped.oldColumn.name === name && !retyped.keeps))
      newCells.set(column, cell);
  }

  return { table: newTable.name, cells: newCells };
}

const noKey: readonly string[] = [];

/** A key that identifies a row among all others. */
function keyOf(table: Table | undefined, { table: name, cells }: Row): string {
  let key = name;
  for (const column of table?.primaryKey ?? noKey) key += `\0${String(cells.get(column) ?? '')}`;
  return key;
}

const isSameCell = (cell: Cell | undefined, other: Cell | undefined): boolean =>
  cell === other || (typeof cell === 'object' && JSON.stringify(cell) === JSON.stringify(other));

/** The cells that differ between two rows of a table, as they are now. */
function differing(oldRow: Row, newRow: Row): ReadonlyMap<string, Cell | undefined> {
  const cells = new Map<string, Cell | undefined>();
  for (const [name, cell] of newRow.cells) if (!isSameCell(oldRow.cells.get(name), cell)) cells.set(name, cell);
  for (const name of oldRow.cells.keys()) if (!newRow.cells.has(name)) cells.set(name, undefined);
  return cells;
}

const isInKey = ({ unique }: Table, column: string): boolean => unique.some((key) => key.includes(column));

const whereText = ({ primaryKey }: Table, { cells }: Row): string =>
  primaryKey.map((column) => `${nameText(column)} = ${cellText(cells.get(column) ?? null)}`).join(' and ');

const deleteText = (table: Table, row: Row): string =>
  `delete from ${nameText(table.name)} where ${whereText(table, row)};\n`;

function updateText({ table, row, cells }: Changed): string {
  const sets = [...cells].map(
    ([name, cell]) => `${nameText(name)} = ${cell === undefined ? 'default' : cellText(cell)}`,
  );
  return `update ${nameText(table.name)} set ${sets.join(', ')} where ${whereText(table, row)};\n`;
}
