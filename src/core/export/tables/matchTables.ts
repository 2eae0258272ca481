import { equal, type Json } from '../../plain/json.ts';
import { nameText, snake } from './sqlText.ts';
import type { Column, Enumeration, ForeignKey, Table } from './table.ts';
import type { Tables } from './tablesOf.ts';

/** A name that became another one, of a type or of a field alone. */
export interface Renamed {
  readonly from: string;
  readonly to: string;
}

/** A table that stays, with what changes in it. */
export interface KeptTable {
  readonly was: Table;
  readonly is: Table;
  /** Names of columns before, and what they are called after. */
  readonly columns: ReadonlyMap<string, string>;
  readonly dropped: readonly Column[];
  readonly added: readonly Column[];
  /** The columns that have to have a value from now on, or need none any more. */
  readonly needs: readonly Column[];
  /** What has to hold beside from now on. */
  readonly checks: readonly string[];
  readonly unique: readonly (readonly string[])[];
  readonly foreignKeys: readonly ForeignKey[];
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
  const kept = both.flatMap(([was, is]) => keptTable(was, is, { isCalled, typeOf, tables }) ?? []);
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

const escaped = (text: string): string => text.replace(/[\\^$.*+?()[\]{}|]/gu, '\\$&');

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
}

function keptTable(was: Table, is: Table, around: Around): KeptTable | undefined {
  const columns = columnsKept(was, is, around);
  const { dropped, added } = parted(was, is, columns);
  const says = (text: string): string => withNames(text, columns);
  const named = (keys: readonly string[]): readonly string[] => keys.map((key) => columns.get(key) ?? key);
  const isGone = mentions(dropped);
  const checks = was.checks.filter((check) => !isGone(check)).map(says);
  const unique = was.unique.filter((key) => !touches(key, dropped)).map(named);
  const keys = was.foreignKeys
    .filter((key) => !touches(key.columns, dropped))
    .map((key) => ({ ...key, columns: named(key.columns), table: around.tables.get(key.table) ?? '' }));
  const fits =
    equal(named(was.primaryKey) as Json, is.primaryKey as Json) &&
    was.isSingle === is.isSingle &&
    checks.every((check) => is.checks.includes(check)) &&
    unique.every((key) => isIn(key, is.unique)) &&
    keys.every((key) => is.foreignKeys.some((other) => isAbout(key, other))) &&
    !touches(is.primaryKey, added) &&
    !touches(was.primaryKey, dropped) &&
    // A column that others are made of goes only with them.
    was.columns.every(({ name, generated = '' }) => {
      const other = is.columns.find((column) => column.name === columns.get(name));
      return !other || (says(generated) === (other.generated ?? '') && !isGone(generated));
    });
  if (!fits) return undefined;
  const ofColumns = asked(was, is, columns);
  return {
    was,
    is,
    columns,
    dropped,
    added,
    needs: ofColumns.needs,
    checks: [...ofColumns.checks, ...is.checks.filter((check) => !checks.includes(check))],
    unique: is.unique.filter((key) => !isIn(key, unique)),
    foreignKeys: is.foreignKeys.filter((key) => !keys.some((other) => isAbout(key, other))),
  };
}

/** The columns that stay, with what they are called after. */
function columnsKept(was: Table, is: Table, { isCalled, typeOf }: Around): ReadonlyMap<string, string> {
  const same = pairs(was.columns, is.columns, isCalled).filter(([one, other]) => isSame(one, other, typeOf));
  return new Map(same.map(([one, other]) => [one.name, other.name]));
}

const parted = (was: Table, is: Table, columns: ReadonlyMap<string, string>) => ({
  dropped: was.columns.filter(({ name }) => !columns.has(name)),
  added: is.columns.filter(({ name }) => ![...columns.values()].includes(name)),
});

/** What is asked of single columns from now on. */
function asked(was: Table, is: Table, columns: ReadonlyMap<string, string>): Pick<KeptTable, 'needs' | 'checks'> {
  const pairs = is.columns.map((column) => ({
    column,
    old: was.columns.find(({ name }) => columns.get(name) === column.name),
  }));
  return {
    needs: pairs.flatMap(({ column, old }) => ((old?.isNeeded ?? false) === column.isNeeded ? [] : [column])),
    checks: pairs.flatMap(({ column, old }) => {
      const names = new Map([[old?.name ?? '', column.name]]);
      const said = (old?.checks ?? []).map((check) => withNames(check, names));
      return column.checks.filter((check) => !said.includes(check));
    }),
  };
}

/** Whether a condition speaks of any of some columns. */
function mentions(columns: readonly Column[]): (text: string) => boolean {
  const names = columns.map(({ name }) => word(escaped(nameText(name))));
  return (text) => besideTexts(text).some((part) => names.some((name) => name.test(part)));
}

const touches = (key: readonly string[], columns: readonly Column[]): boolean =>
  columns.some(({ name }) => key.includes(name));

const isIn = (one: readonly string[], all: readonly (readonly string[])[]): boolean =>
  all.some((other) => equal(one as Json, other as Json));

/** Whether two foreign keys are the same, wherever their targets have other names. */
const isAbout = (one: ForeignKey, other: ForeignKey): boolean =>
  one.table === other.table &&
  equal(one.columns as Json, other.columns as Json) &&
  one.target.length === other.target.length;

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

/** A condition in which columns have other names. */
function withNames(text: string, names: ReadonlyMap<string, string>): string {
  const others = new Map(
    [...names].flatMap(([from, to]) => (from === to ? [] : [[nameText(from), nameText(to)] as const])),
  );
  if (others.size === 0) return text;
  const name = word([...others.keys()].map(escaped).join('|'), 'gu');
  return text
    .split(quoted)
    .map((part) => (part.startsWith("'") ? part : part.replace(name, (one) => others.get(one) ?? one)))
    .join('');
}

/** A text in a condition, in its quotation marks: nothing in it is a name. */
const quoted = /('(?:[^']|'')*')/u;

const besideTexts = (condition: string): readonly string[] =>
  condition.split(quoted).filter((part) => !part.startsWith("'"));

/** A name as it stands in a condition: no part of a longer one. */
const word = (pattern: string, flags = 'u'): RegExp =>
  new RegExp(`(?<![\\p{L}\\p{N}_"'])(?:${pattern})(?![\\p{L}\\p{N}_"'])`, flags);
