import { equal, type Json } from '../../plain/json.ts';
import { escaped, mentions, withNames } from './conditions.ts';
import { type Demands, demandsBetween, named, touches } from './demands.ts';
import { type Retyped, retyped } from './retype.ts';
import { snake } from './sqlText.ts';
import type { Column, Enumeration, Table } from './table.ts';
import type { Tables } from './tablesOf.ts';

/** A name that became another one, of a type or of a field alone. */
export interface Renamed {
  readonly from: string;
  readonly to: string;
}

/** A table that stays, with what changes in it. */
export interface KeptTable extends Demands {
  readonly oldTable: Table;
  readonly newTable: Table;
  /** The old names of columns, and their new names. */
  readonly columns: ReadonlyMap<string, string>;
  readonly dropped: readonly Column[];
  readonly added: readonly Column[];
  /** The columns whose values are of another type from now on. */
  readonly retyped: readonly Retyped[];
}

/** The outcome for the tables of a model. */
export interface MatchedTables {
  readonly keptTables: readonly KeptTable[];
  /** Tables of before that go, and new tables; their rows are inserted anew. */
  readonly removedTables: readonly Table[];
  readonly come: readonly Table[];
  readonly keptTypes: readonly (readonly [Enumeration, Enumeration])[];
  /** Enumerations that only have more values. */
  readonly grownTypes: readonly (readonly [Enumeration, Enumeration])[];
  /** Enumerations that go; columns that stay may be of one until they are of another type. */
  readonly goneTypes: readonly Enumeration[];
  readonly comeTypes: readonly Enumeration[];
}

/**
 * Tells which tables of a model can be changed into those of another one where they stand: columns that have other names,
 * that come, and that go. What a statement cannot name, such as a condition that is stated no more, asks for a new table.
 */
export function matchTables(before: Tables, after: Tables, renames: readonly Renamed[]): MatchedTables {
  const isCalled = renamer(renames);
  const paired = pairs(before.enumerations, after.enumerations, isCalled);
  const types = paired.filter(([oldEnumeration, newEnumeration]) =>
    equal(oldEnumeration.values as Json, newEnumeration.values as Json),
  );
  const grown = paired.filter((pair) => !types.includes(pair) && canGrow(pair, before.tables));
  const typeNames = new Map(
    [...types, ...grown].map(([oldEnumeration, newEnumeration]) => [oldEnumeration.name, newEnumeration.name]),
  );
  const ownTypes = new Set([...before.enumerations, ...after.enumerations].map(({ name }) => name));
  const typeOf = (type: string): string | undefined => {
    if (!ownTypes.has(type)) return type;
    return typeNames.get(type);
  };
  const pairedTables = pairs(before.tables, after.tables, isCalled);
  const tables = new Map(pairedTables.map(([oldTable, newTable]) => [oldTable.name, newTable.name]));
  const around = {
    isCalled,
    typeOf,
    tables,
    enumerations: ownTypes,
    keyed: keyedBy([...before.tables, ...after.tables]),
  };
  const keptTables = pairedTables.flatMap(([oldTable, newTable]) => keptTable(oldTable, newTable, around) ?? []);

  return {
    keptTables,
    removedTables: before.tables.filter((table) => !keptTables.some(({ oldTable }) => oldTable === table)),
    come: after.tables.filter((table) => !keptTables.some(({ newTable }) => newTable === table)),
    keptTypes: types,
    grownTypes: grown,
    goneTypes: before.enumerations.filter(
      (enumeration) => ![...types, ...grown].some(([oldEnumeration]) => oldEnumeration === enumeration),
    ),
    comeTypes: after.enumerations.filter(
      (enumeration) => ![...types, ...grown].some(([, newEnumeration]) => newEnumeration === enumeration),
    ),
  };
}

/** The columns of each table that keys of others lead to. */
function keyedBy(tables: readonly Table[]): ReadonlyMap<string, ReadonlySet<string>> {
  const keyed = new Map<string, Set<string>>();
  for (const { foreignKeys } of tables)
    for (const { table, target } of foreignKeys) keyed.set(table, new Set([...(keyed.get(table) ?? []), ...target]));
  return keyed;
}

/** Whether the columns of an enumeration can have more values where they stand: no key leads over them, nothing is given. */
const canGrow = (
  [oldEnumeration, newEnumeration]: readonly [Enumeration, Enumeration],
  tables: readonly Table[],
): boolean =>
  oldEnumeration.values.every((value) => newEnumeration.values.includes(value)) &&
  tables.every(({ columns, foreignKeys }) =>
    columns
      .filter(({ type }) => type === oldEnumeration.name)
      .every((column) => column.default === undefined && !foreignKeys.some((key) => key.columns.includes(column.name))),
  );

/** Whether something of one name may be called by another one now. */
type IsCalled = (oldName: string, newName: string) => boolean;

const renamer = (renames: readonly Renamed[]): IsCalled => {
  const words = renames.map(({ from, to }) => [snake(from), snake(to)] as const);
  return (oldName, newName) =>
    words.some(([from, to]) =>
      [...`_${oldName}_`.matchAll(new RegExp(`(?<=_)${escaped(from)}(?=_)`, 'gu'))].some(
        ({ index }) => oldName.slice(0, index - 1) + to + oldName.slice(index - 1 + from.length) === newName,
      ),
    );
};

/** Pairs: parts with the same name on both sides, and new parts that may be renamed ones. */
function pairs<T extends { readonly name: string }>(
  before: readonly T[],
  after: readonly T[],
  isCalled: IsCalled,
): readonly (readonly [T, T])[] {
  const names = new Set(before.map(({ name }) => name));
  const free = new Set(after.filter(({ name }) => !names.has(name)));
  return before.flatMap((old) => {
    const same = after.find(({ name }) => name === old.name);
    const renamed = same ?? [...free].find(({ name }) => isCalled(old.name, name));
    if (renamed) free.delete(renamed);
    if (!renamed) return [];
    return [[old, renamed] as const];
  });
}

interface MatchingNames {
  readonly isCalled: IsCalled;
  /** What a type is called after; `undefined` of one that goes. */
  readonly typeOf: (type: string) => string | undefined;
  /** What tables are called after. */
  readonly tables: ReadonlyMap<string, string>;
  /** The names of all enumerations. */
  readonly enumerations: ReadonlySet<string>;
  /** The columns of tables that keys of others lead to. */
  readonly keyed: ReadonlyMap<string, ReadonlySet<string>>;
}

function keptTable(oldTable: Table, newTable: Table, around: MatchingNames): KeptTable | undefined {
  const columns = columnsKept(oldTable, newTable, around);
  const { dropped, added } = parted(oldTable, newTable, columns);
  const isGone = mentions(dropped);
  const isAddable =
    equal(named(oldTable.primaryKey, columns) as Json, newTable.primaryKey as Json) &&
    oldTable.isSingle === newTable.isSingle &&
    !touches(newTable.primaryKey, added) &&
    !touches(oldTable.primaryKey, dropped) &&
    // A column that others are made of goes only with them.
    oldTable.columns.every(({ name, generated = '' }) => {
      const other = newTable.columns.find((column) => column.name === columns.get(name));
      return !other || (withNames(generated, columns) === (other.generated ?? '') && !isGone(generated));
    });
  if (!isAddable) return undefined;

  const changed = retypedIn(oldTable, newTable, columns, around);
  const demands = demandsBetween(oldTable, newTable, { columns, dropped, changed, tables: around.tables });

  return { oldTable, newTable, columns, dropped, added, retyped: changed, ...demands };
}

/** The columns that stay, with their names after. */
function columnsKept(oldTable: Table, newTable: Table, around: MatchingNames): ReadonlyMap<string, string> {
  const same = pairs(oldTable.columns, newTable.columns, around.isCalled).filter(
    ([column, other]) => isSame(column, other, around.typeOf) || canStay([oldTable, column], [newTable, other], around),
  );
  return new Map(same.map(([column, other]) => [column.name, other.name]));
}

/** Whether a column can be given another type where it stands: no key leads to it, and no other column is made of it. */
function canStay(
  [oldTable, oldColumn]: readonly [Table, Column],
  [newTable, other]: readonly [Table, Column],
  { keyed }: MatchingNames,
): boolean {
  const isFree = (table: Table, column: Column): boolean => {
    const isNamed = mentions([column]);
    return (
      column.generated === undefined &&
      !table.primaryKey.includes(column.name) &&
      !keyed.get(table.name)?.has(column.name) &&
      !table.columns.some(({ generated = '' }) => isNamed(generated))
    );
  };

  return isFree(oldTable, oldColumn) && isFree(newTable, other);
}

/** The columns that stay and are not the same. */
const retypedIn = (
  oldTable: Table,
  newTable: Table,
  columns: ReadonlyMap<string, string>,
  { typeOf, enumerations }: MatchingNames,
): readonly Retyped[] =>
  oldTable.columns.flatMap((column) => {
    const other = newTable.columns.find(({ name }) => name === columns.get(column.name));
    if (!other) return [];
    const isSameType = typeOf(column.type) === other.type;
    if (isSameType && column.default === other.default) return [];
    return [retyped(column, other, isSameType, enumerations)];
  });

const parted = (oldTable: Table, newTable: Table, columns: ReadonlyMap<string, string>) => ({
  dropped: oldTable.columns.filter(({ name }) => !columns.has(name)),
  added: newTable.columns.filter(({ name }) => ![...columns.values()].includes(name)),
});

/** Whether a column can become another one where it stands: conditions may come, and `not null` may come or go. */
function isSame(oldColumn: Column, newColumn: Column, typeOf: MatchingNames['typeOf']): boolean {
  const names = new Map([[oldColumn.name, newColumn.name]]);
  return (
    typeOf(oldColumn.type) === newColumn.type &&
    oldColumn.default === newColumn.default &&
    (oldColumn.generated === undefined) === (newColumn.generated === undefined) &&
    // A condition that is stated no more has no name by which it could be taken away.
    oldColumn.checks.every((check) => newColumn.checks.includes(withNames(check, names)))
  );
}
