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
  /** Conditions that have to hold beside from now on. */
  readonly checks: readonly string[];
  readonly unique: readonly (readonly string[])[];
  readonly foreignKeys: readonly ForeignKey[];
}

interface TableNames {
  /** The old names of columns, and their new names. */
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
export function demandsBetween(
  oldTable: Table,
  newTable: Table,
  { columns, dropped, changed, tables }: TableNames,
): Demands {
  const converted = changed.flatMap(({ isConverted, oldColumn: column }) => (isConverted ? [column] : []));
  const [isGone, speaksOfConverted] = [mentions(dropped), mentions(converted)];
  const renamedCheck = (check: string): string => withNames(check, columns);

  const after = (key: ForeignKey): ForeignKey => ({
    ...key,
    columns: named(key.columns, columns),
    table: tables.get(key.table) ?? '',
  });

  const checks = parted(
    oldTable.checks.filter((check) => !isGone(check)),
    (check) => newTable.checks.includes(renamedCheck(check)) && !speaksOfConverted(check),
  );
  const unique = parted(
    oldTable.unique.filter((key) => !touches(key, dropped)),
    (key) => isIn(named(key, columns), newTable.unique),
  );
  const keys = parted(
    oldTable.foreignKeys.filter((key) => !touches(key.columns, dropped)),
    (key) => !touches(key.columns, converted) && newTable.foreignKeys.some((other) => isAbout(after(key), other)),
  );
  const [keptChecks, keptUnique, keptKeys] = [
    checks.stay.map(renamedCheck),
    unique.stay.map((key) => named(key, columns)),
    keys.stay.map(after),
  ];

  const single = ofColumns(oldTable, newTable, columns, changed);

  return {
    retired: {
      checks: [...checks.go, ...single.retired],
      unique: unique.go,
      // Keys that lead to a table that goes are dropped with it.
      foreignKeys: keys.go.filter((key) => tables.has(key.table)),
    },
    needs: single.needs,
    checks: [...single.checks, ...newTable.checks.filter((check) => !keptChecks.includes(check))],
    unique: newTable.unique.filter((key) => !isIn(key, keptUnique)),
    foreignKeys: newTable.foreignKeys.filter((key) => !keptKeys.some((other) => isAbout(key, other))),
  };
}

/** Demands that stay, and those that go. */
const parted = <T>(
  items: readonly T[],
  stays: (item: T) => boolean,
): { readonly stay: readonly T[]; readonly go: readonly T[] } => ({
  stay: items.filter(stays),
  go: items.filter((item) => !stays(item)),
});

/** New and dropped conditions of single columns. */
function ofColumns(
  oldTable: Table,
  newTable: Table,
  columns: ReadonlyMap<string, string>,
  changed: readonly Retyped[],
) {
  const pairs = newTable.columns.map((column) => {
    const old = oldTable.columns.find(({ name }) => columns.get(name) === column.name);
    const isConverted = changed.some((retyped) => retyped.newColumn === column && retyped.isConverted);
    const names = new Map([[old?.name ?? '', column.name]]);
    const [oldChecks, newChecks] = [old?.checks ?? [], column.checks];
    const stays = isConverted ? [] : oldChecks.filter((check) => newChecks.includes(withNames(check, names)));
    const keptChecks = stays.map((check) => withNames(check, names));

    return {
      column,
      // A column of another type needs no value until its rows have one.
      wasNeeded: (old?.isNeeded ?? false) && !isConverted,
      retired: oldChecks.filter((check) => !stays.includes(check)),
      checks: newChecks.filter((check) => !keptChecks.includes(check)),
    };
  });
  return {
    needs: pairs.flatMap(({ column, wasNeeded }) => (wasNeeded === column.isNeeded ? [] : [column])),
    checks: pairs.flatMap((pair) => pair.checks),
    retired: pairs.flatMap((pair) => pair.retired),
  };
}

/** Whether a key has any of some columns. */
export const touches = (key: readonly string[], columns: readonly Column[]): boolean =>
  columns.some(({ name }) => key.includes(name));

const isIn = (columns: readonly string[], lists: readonly (readonly string[])[]): boolean =>
  lists.some((other) => equal(columns as Json, other as Json));

/** Whether two foreign keys are the same, wherever their targets have other names. */
const isAbout = (key: ForeignKey, other: ForeignKey): boolean =>
  key.table === other.table &&
  equal(key.columns as Json, other.columns as Json) &&
  key.target.length === other.target.length;
