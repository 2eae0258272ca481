import { equal, type Json } from '../../plain/json.ts';
import { mentions, withNames } from './conditions.ts';
import type { Retired, Retyped } from './retype.ts';
import type { Column, ForeignKey, Table } from './table.ts';

/** What a table that stays asks of its rows from now on, and what no longer. */
export interface Demands {
  /** What no longer has to hold, in the names of before. */
  readonly retired: Retired;
  /** The columns that have to have a value from now on, or need none any more. */
  readonly needs: readonly Column[];
  /** What has to hold beside from now on. */
  readonly checks: readonly string[];
  readonly unique: readonly (readonly string[])[];
  readonly foreignKeys: readonly ForeignKey[];
}

interface Around {
  /** Names of columns before, and what they are called after. */
  readonly columns: ReadonlyMap<string, string>;
  readonly dropped: readonly Column[];
  readonly changed: readonly Retyped[];
  /** What tables are called after. */
  readonly tables: ReadonlyMap<string, string>;
}

/** A key under the names that its columns have after. */
export const named = (key: readonly string[], columns: ReadonlyMap<string, string>): readonly string[] =>
  key.map((column) => columns.get(column) ?? column);

/** What a table asks of its rows before and after. What speaks of a column that goes, goes with it. */
export function demandsBetween(was: Table, is: Table, { columns, dropped, changed, tables }: Around): Demands {
  const converted = changed.flatMap(({ isConverted, was: column }) => (isConverted ? [column] : []));
  const [isGone, speaksOfConverted] = [mentions(dropped), mentions(converted)];
  const says = (check: string): string => withNames(check, columns);
  const after = (key: ForeignKey): ForeignKey => ({
    ...key,
    columns: named(key.columns, columns),
    table: tables.get(key.table) ?? '',
  });

  const checks = parted(
    was.checks.filter((check) => !isGone(check)),
    (check) => is.checks.includes(says(check)) && !speaksOfConverted(check),
  );
  const unique = parted(
    was.unique.filter((key) => !touches(key, dropped)),
    (key) => isIn(named(key, columns), is.unique),
  );
  const keys = parted(
    was.foreignKeys.filter((key) => !touches(key.columns, dropped)),
    (key) => !touches(key.columns, converted) && is.foreignKeys.some((other) => isAbout(after(key), other)),
  );
  const [kept, keptUnique, keptKeys] = [
    checks.stay.map(says),
    unique.stay.map((key) => named(key, columns)),
    keys.stay.map(after),
  ];

  const single = ofColumns(was, is, columns, changed);
  return {
    retired: {
      checks: [...checks.go, ...single.retired],
      unique: unique.go,
      // Keys that lead to a table that goes are dropped with it.
      foreignKeys: keys.go.filter((key) => tables.has(key.table)),
    },
    needs: single.needs,
    checks: [...single.checks, ...is.checks.filter((check) => !kept.includes(check))],
    unique: is.unique.filter((key) => !isIn(key, keptUnique)),
    foreignKeys: is.foreignKeys.filter((key) => !keptKeys.some((other) => isAbout(key, other))),
  };
}

/** Demands that stay, and those that go. */
const parted = <T>(
  all: readonly T[],
  stays: (one: T) => boolean,
): { readonly stay: readonly T[]; readonly go: readonly T[] } => ({
  stay: all.filter(stays),
  go: all.filter((one) => !stays(one)),
});

/** What is asked of single columns from now on, and what is no longer. */
function ofColumns(was: Table, is: Table, columns: ReadonlyMap<string, string>, changed: readonly Retyped[]) {
  const pairs = is.columns.map((column) => {
    const old = was.columns.find(({ name }) => columns.get(name) === column.name);
    const isConverted = changed.some((one) => one.is === column && one.isConverted);
    const names = new Map([[old?.name ?? '', column.name]]);
    const [said, says] = [old?.checks ?? [], column.checks];
    const stays = isConverted ? [] : said.filter((check) => says.includes(withNames(check, names)));
    const kept = stays.map((check) => withNames(check, names));
    return {
      column,
      // A column of another type needs no value until its rows have one.
      wasNeeded: (old?.isNeeded ?? false) && !isConverted,
      retired: said.filter((check) => !stays.includes(check)),
      checks: says.filter((check) => !kept.includes(check)),
    };
  });
  return {
    needs: pairs.flatMap(({ column, wasNeeded }) => (wasNeeded === column.isNeeded ? [] : [column])),
    checks: pairs.flatMap((one) => one.checks),
    retired: pairs.flatMap((one) => one.retired),
  };
}

/** Whether a key has any of some columns. */
export const touches = (key: readonly string[], columns: readonly Column[]): boolean =>
  columns.some(({ name }) => key.includes(name));

const isIn = (one: readonly string[], all: readonly (readonly string[])[]): boolean =>
  all.some((other) => equal(one as Json, other as Json));

/** Whether two foreign keys are the same, wherever their targets have other names. */
const isAbout = (one: ForeignKey, other: ForeignKey): boolean =>
  one.table === other.table &&
  equal(one.columns as Json, other.columns as Json) &&
  one.target.length === other.target.length;
