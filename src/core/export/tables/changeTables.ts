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
  /** Tables that stay, by what they are called before. */
  readonly #kept: ReadonlyMap<string, KeptTable>;
  /** The enumerations after, by their names. */
  readonly #enumerations: ReadonlyMap<string, Enumeration>;

  constructor(before: Tables, after: Tables, renames: readonly Renamed[]) {
    this.#tables = new Map(after.tables.map((table) => [table.name, table]));
    this.#matched = matchTables(before, after, renames);
    this.#kept = new Map(this.#matched.kept.map((one) => [one.was.name, one]));
    this.#enumerations = new Map(after.enumerations.map((one) => [one.name, one]));
  }

  /** What says whether the tables hold what the entries had, before anything is changed in them. */
  guard(): TableGuard {
    const { kept, gone } = this.#matched;
    const losing = new Set([...gone, ...kept.filter(isLosing).map(({ was }) => was)]);
    return new TableGuard([...gone, ...kept.map(({ was }) => was)], losing);
  }

  /** How many tables are changed where they stand, made anew with all their rows, or gone. */
  counts(): { readonly kept: number; readonly made: number; readonly gone: number } {
    const { kept, come, gone } = this.#matched;
    const isMade = new Set(come.map(({ name }) => name));
    return {
      kept: kept.filter(isAltered).length,
      made: come.length,
      gone: gone.filter(({ name }) => !isMade.has(name)).length,
    };
  }

  /** Statements that come before rows are changed: what goes, what is called otherwise, and what comes, but for keys. */
  begin(): string {
    const { kept, gone, come, keptTypes, grownTypes, goneTypes, comeTypes } = this.#matched;
    return [
      ...kept.flatMap(({ was, retired }) => retiredText(was, retired)),
      dropTablesText(gone, kept),
      ...kept.flatMap(droppedColumns),
      ...[...grownTypes.map(([was]) => was), ...goneTypes].map(
        ({ name }) => `alter type ${nameText(name)} rename to ${nameText(outgrown(name))};\n`,
      ),
      ...renamesText('alter type', keptTypes),
      ...renamesText(
        'alter table',
        kept.map(({ was, is }) => [was, is]),
      ),
      ...comeTypes.map(enumerationText),
      ...grownTypes.flatMap((pair) => grownText(pair, kept)),
      ...kept.flatMap(alteredColumns),
      ...kept.flatMap(({ is, retyped }) => retyped.flatMap((one) => retypedText(is.name, one, this.#enumerations))),
      ...goneTypes.map(({ name }) => `drop type ${nameText(outgrown(name))};\n`),
      ...come.map(tableText),
    ].join('');
  }

  /** Statements that come behind all rows: keys and conditions that have to hold by now, and what is said of each. */
  finish(): string {
    const { kept, come } = this.#matched;
    const isNew = new Set(come.map(({ name }) => name));
    return [
      // What refers to other rows is looked at now: a table with something left to look at cannot be altered.
      'set constraints all immediate;\n',
      ...kept.flatMap(addedKeys),
      ...come.flatMap((table) => table.foreignKeys.map((key) => foreignKeyText(table, key))),
      ...kept.flatMap(({ is, foreignKeys }) =>
        is.foreignKeys
          .filter((key) => isNew.has(key.table) || foreignKeys.includes(key))
          .map((key) => foreignKeyText(is, key)),
      ),
      ...come.flatMap(commentsText),
      ...kept.flatMap(changedComments),
    ].join('');
  }

  /** Statements that take out rows of tables that stay. */
  deletes(was: readonly Row[], is: readonly Row[]): string {
    const { gone } = this.#compared(was, is);
    return [...gone].map(({ row, table }) => deleteText(table, row)).join('');
  }

  /** Statements that put in rows that were not there. */
  inserts(was: readonly Row[], is: readonly Row[]): string {
    const { come, changed } = this.#compared(was, is);
    return changed.map(updateText).join('') + insertText(come);
  }

  /** The rows of an entry before and after, told apart: what goes, what comes, and what has other values. */
  #compared(was: readonly Row[], is: readonly Row[]) {
    const left = new Map(is.map((row) => [keyOf(this.#tables.get(row.table), row), row]));
    const gone: { readonly row: Row; readonly table: Table }[] = [];
    const changed: Changed[] = [];
    for (const row of was) {
      const kept = this.#kept.get(row.table);
      if (!kept) continue;
      const renamedRow = rowAfter(row, kept);
      const key = keyOf(kept.is, renamedRow);
      const other = left.get(key);
      const cells = other && differing(renamedRow, other);
      // What nothing else may have is taken out before it is put in elsewhere.
      if (!cells || [...cells.keys()].some((name) => isInKey(kept.is, name)))
        gone.push({ row: renamedRow, table: kept.is });
      else {
        left.delete(key);
        if (cells.size > 0) changed.push({ table: kept.is, row: renamedRow, cells });
      }
    }
    return { gone, changed, come: [...left.values()] };
  }
}

const isAltered = ({ was, is, columns, retired, ...others }: KeptTable): boolean => {
  const { dropped, added, retyped, needs, checks, unique, foreignKeys } = others;
  return (
    was.name !== is.name ||
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
  /** What stands in it by now, where that is something else; nothing is what a column has of itself. */
  readonly cells: ReadonlyMap<string, Cell | undefined>;
}

/**
 * Drops tables, and before them the keys of our own tables that lead to them. What others made on them (a view, a key)
 * stops it, and the database names it.
 */
function dropTablesText(gone: readonly Table[], kept: readonly KeptTable[]): string {
  if (gone.length === 0) return '';
  const named = (tables: readonly Named[]): string =>
    tables.map(({ name }) => `${textLiteral(nameText(name))}::regclass`).join(', ');
  return [
    'do $keys$ declare key record; begin\n',
    `  for key in select conrelid::regclass as holder, conname from pg_constraint where contype = 'f'\n`,
    `    and confrelid in (${named(gone)})\n`,
    `    and conrelid in (${named([...gone, ...kept.map(({ was }) => was)])}) loop\n`,
    `    execute format('alter table %s drop constraint %I', key.holder, key.conname);\n`,
    '  end loop;\nend $keys$;\n',
    `drop table ${namesText(gone.map(({ name }) => name))};\n`,
  ].join('');
}

const droppedColumns = ({ was, dropped }: KeptTable): readonly string[] =>
  dropped.map(({ name }) => `alter table ${nameText(was.name)} drop column ${nameText(name)};\n`);

/** What an enumeration is called until its columns have more values. */
const outgrown = (name: string): string => `${name.slice(0, 50)}_was`;

/** An enumeration with more values: those that are new can be used at once, and all stand in their order. */
function grownText([was, is]: readonly [Enumeration, Enumeration], kept: readonly KeptTable[]): readonly string[] {
  const columns = kept.flatMap((table) =>
    table.was.columns.flatMap(({ name, type }) =>
      type === was.name && table.columns.has(name) ? [[table.is.name, name] as const] : [],
    ),
  );
  return [
    enumerationText(is),
    ...columns.map(
      ([table, column]) =>
        `alter table ${nameText(table)} alter column ${nameText(column)} type ${nameText(is.name)} using ${nameText(column)}::text::${nameText(is.name)};\n`,
    ),
    `drop type ${nameText(outgrown(was.name))};\n`,
  ];
}

/** Columns that have other names or come, in a table that has its new name by now. */
function alteredColumns({ is, columns, added, needs }: KeptTable): readonly string[] {
  const table = `alter table ${nameText(is.name)}`;
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

/** What has to hold in a table that stays and did not before, now that its rows are what they should be. */
function addedKeys({ is, needs, checks, unique }: KeptTable): readonly string[] {
  const table = `alter table ${nameText(is.name)}`;
  return [
    ...needs.flatMap(({ name, isNeeded }) =>
      isNeeded ? [`${table} alter column ${nameText(name)} set not null;\n`] : [],
    ),
    ...checks.map((check) => `${table} add check (${check});\n`),
    ...unique.map((key) => `${table} add unique (${namesText(key)});\n`),
  ];
}

/** What is said of a table that stays, and of its columns, where that is something else by now. */
function changedComments({ was, is, columns }: KeptTable): readonly string[] {
  const told = new Map(was.columns.map(({ name, about }) => [columns.get(name), about]));
  return [
    ...(was.about === is.about ? [] : [tableCommentText(is)]),
    ...is.columns.flatMap((column) =>
      (told.get(column.name) ?? '') === column.about ? [] : [columnCommentText(is, column)],
    ),
  ];
}

/** A row under the names that its table has by now, without what goes. */
function rowAfter({ cells }: Row, { is, columns, retyped }: KeptTable): Row {
  const now = new Map<string, Cell>();
  for (const [name, cell] of cells) {
    const column = columns.get(name);
    if (column !== undefined && !retyped.some((one) => one.was.name === name && !one.keeps)) now.set(column, cell);
  }
  return { table: is.name, cells: now };
}

const noKey: readonly string[] = [];

/** What stands for a row among all others. */
function keyOf(table: Table | undefined, { table: name, cells }: Row): string {
  let key = name;
  for (const column of table?.primaryKey ?? noKey) key += `\0${String(cells.get(column) ?? '')}`;
  return key;
}

const isSameCell = (one: Cell | undefined, other: Cell | undefined): boolean =>
  one === other || (typeof one === 'object' && JSON.stringify(one) === JSON.stringify(other));

/** The cells that differ between two rows of a table, as they are by now. */
function differing(was: Row, is: Row): ReadonlyMap<string, Cell | undefined> {
  const cells = new Map<string, Cell | undefined>();
  for (const [name, cell] of is.cells) if (!isSameCell(was.cells.get(name), cell)) cells.set(name, cell);
  for (const name of was.cells.keys()) if (!is.cells.has(name)) cells.set(name, undefined);
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
