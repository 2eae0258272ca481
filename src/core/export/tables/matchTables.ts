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
  readonly was: Table;
  readonly is: Table;
  /** Names of columns before, and what they are called after. */
  readonly columns: ReadonlyMap<string, string>;
  readonly dropped: readonly Column[];
  readonly added: readonly Column[];
  /** The columns whose values are of another type from now on. */
  readonly retyped: readonly Retyped[];
}

/** What becomes of the tables of a model. */
export interface MatchedTables {
  readonly kept: readonly KeptTable[];
  /** Tables of before that go, and of after that come; what is in them is filled in anew. */
  readonly gone: readonly Table[];
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
 * that come, and that go. What a statement cannot name, such as a condition that is said no more, asks for a new table.
 */
export function matchTables(before: Tables, after: Tables, renames: readonly Renamed[]): MatchedTables {
  const isCalled = renamer(renames);
  const paired = pairs(before.enumerations, after.enumerations, isCalled);
  const types = paired.filter(([was, is]) => equal(was.values as Json, is.values as Json));
  const grown = paired.filter((pair) => !types.includes(pair) && canGrow(pair, before.tables));
  const typeNames = new Map([...types, ...grown].map(([was, is]) => [was.name, is.name]));
  const own = new Set([...before.enumerations, ...after.enumerations].map(({ name }) => name));
  const typeOf = (type: string): string | undefined => (own.has(type) ? typeNames.get(type) : type);
  const both = pairs(before.tables, after.tables, isCalled);
  const tables = new Map(both.map(([was, is]) => [was.name, is.name]));
  const around = { isCalled, typeOf, tables, enumerations: own, keyed: keyedBy([...before.tables, ...after.tables]) };
  const kept = both.flatMap(([was, is]) => keptTable(was, is, around) ?? []);
  return {
    kept,
    gone: before.tables.filter((one) => !kept.some(({ was }) => was === one)),
    come: after.tables.filter((one) => !kept.some(({ is }) => is === one)),
    keptTypes: types,
    grownTypes: grown,
    goneTypes: before.enumerations.filter((one) => ![...types, ...grown].some(([was]) => was === one)),
    comeTypes: after.enumerations.filter((one) => ![...types, ...grown].some(([, is]) => is === one)),
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
const canGrow = ([was, is]: readonly [Enumeration, Enumeration], tables: readonly Table[]): boolean =>
  was.values.every((value) => is.values.includes(value)) &&
  tables.every(({ columns, foreignKeys }) =>
    columns
      .filter(({ type }) => type === was.name)
      .every((column) => column.default === undefined && !foreignKeys.some((key) => key.columns.includes(column.name))),
  );

/** Whether something of one name may be called by another one now. */
type IsCalled = (was: string, is: string) => boolean;

const renamer = (renames: readonly Renamed[]): IsCalled => {
  const words = renames.map(({ from, to }) => [snake(from), snake(to)] as const);
  return (was, is) =>
    words.some(([from, to]) =>
      [...`_${was}_`.matchAll(new RegExp(`(?<=_)${escaped(from)}(?=_)`, 'gu'))].some(
        ({ index }) => was.slice(0, index - 1) + to + was.slice(index - 1 + from.length) === is,
      ),
    );
};

/** What belongs together: what is called the same on both sides, and what is new on one and may be called so by now. */
function pairs<T extends { readonly name: string }>(
  before: readonly T[],
  after: readonly T[],
  isCalled: IsCalled,
): readonly (readonly [T, T])[] {
  const names = new Set(before.map(({ name }) => name));
  const free = new Set(after.filter(({ name }) => !names.has(name)));
  return before.flatMap((was) => {
    const same = after.find(({ name }) => name === was.name);
    const is = same ?? [...free].find(({ name }) => isCalled(was.name, name));
    if (is) free.delete(is);
    return is ? [[was, is] as const] : [];
  });
}

interface Around {
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

function keptTable(was: Table, is: Table, around: Around): KeptTable | undefined {
  const columns = columnsKept(was, is, around);
  const { dropped, added } = parted(was, is, columns);
  const isGone = mentions(dropped);
  const fits =
    equal(named(was.primaryKey, columns) as Json, is.primaryKey as Json) &&
    was.isSingle === is.isSingle &&
    !touches(is.primaryKey, added) &&
    !touches(was.primaryKey, dropped) &&
    // A column that others are made of goes only with them.
    was.columns.every(({ name, generated = '' }) => {
      const other = is.columns.find((column) => column.name === columns.get(name));
      return !other || (withNames(generated, columns) === (other.generated ?? '') && !isGone(generated));
    });
  if (!fits) return undefined;

  const changed = retypedIn(was, is, columns, around);
  const demands = demandsBetween(was, is, { columns, dropped, changed, tables: around.tables });
  return { was, is, columns, dropped, added, retyped: changed, ...demands };
}

/** The columns that stay, with what they are called after. */
function columnsKept(was: Table, is: Table, around: Around): ReadonlyMap<string, string> {
  const same = pairs(was.columns, is.columns, around.isCalled).filter(
    ([one, other]) => isSame(one, other, around.typeOf) || canStay([was, one], [is, other], around),
  );
  return new Map(same.map(([one, other]) => [one.name, other.name]));
}

/** Whether a column can be given another type where it stands: no key leads to it, and no other column is made of it. */
function canStay(
  [was, one]: readonly [Table, Column],
  [is, other]: readonly [Table, Column],
  { keyed }: Around,
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
  return isFree(was, one) && isFree(is, other);
}

/** The columns that stay and are not the same. */
const retypedIn = (
  was: Table,
  is: Table,
  columns: ReadonlyMap<string, string>,
  { typeOf, enumerations }: Around,
): readonly Retyped[] =>
  was.columns.flatMap((column) => {
    const other = is.columns.find(({ name }) => name === columns.get(column.name));
    if (!other) return [];
    const isSameType = typeOf(column.type) === other.type;
    return isSameType && column.default === other.default ? [] : [retyped(column, other, isSameType, enumerations)];
  });

const parted = (was: Table, is: Table, columns: ReadonlyMap<string, string>) => ({
  dropped: was.columns.filter(({ name }) => !columns.has(name)),
  added: is.columns.filter(({ name }) => ![...columns.values()].includes(name)),
});

/** Whether a column can become another one where it stands: what has to hold may come, and a value may be needed or not. */
function isSame(was: Column, is: Column, typeOf: Around['typeOf']): boolean {
  const names = new Map([[was.name, is.name]]);
  return (
    typeOf(was.type) === is.type &&
    was.default === is.default &&
    (was.generated === undefined) === (is.generated === undefined) &&
    // A condition that is said no more has no name by which it could be taken away.
    was.checks.every((check) => is.checks.includes(withNames(check, names)))
  );
}
