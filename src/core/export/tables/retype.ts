import { nameText, textLiteral } from './sqlText.ts';
import { nameOfType } from './statements.ts';
import type { Column, Enumeration, ForeignKey, Table } from './table.ts';

/** A column that stays and is of another type, or has another value of itself, from now on. */
export interface Retyped {
  readonly oldColumn: Column;
  readonly newColumn: Column;
  /** Whether its type changes. */
  readonly isConverted: boolean;
  /** Whether the database carries its values over as far as they fit; else each is written anew. */
  readonly keeps: boolean;
}

/** Conditions that no longer hold on a table that stays, in the old names. */
export interface Retired {
  readonly checks: readonly string[];
  readonly unique: readonly (readonly string[])[];
  readonly foreignKeys: readonly ForeignKey[];
}

const isWhole = (type: string): boolean => type === 'integer' || type === 'bigint';

/**
 * What a column becomes that stays where it stands.
 * @param enumerations the names of all enumerations, before and after.
 */
export function retyped(
  oldColumn: Column,
  newColumn: Column,
  isSameType: boolean,
  enumerations: ReadonlySet<string>,
): Retyped {
  const isTextual = ({ type }: Column): boolean => type === 'text' || enumerations.has(type);
  const isWider =
    isWhole(oldColumn.type) &&
    (newColumn.type === 'numeric' || isWhole(newColumn.type)) &&
    newColumn.type !== 'integer';
  const keeps = isSameType || (isTextual(oldColumn) && isTextual(newColumn)) || isWider;
  return { oldColumn, newColumn, isConverted: !isSameType, keeps };
}

/** Statements that give a column its other type. The table has its new name by then, and the column its own. */
export function retypedText(
  table: string,
  { oldColumn, newColumn, isConverted, keeps }: Retyped,
  enumerations: ReadonlyMap<string, Enumeration>,
): readonly string[] {
  const column = `alter table ${nameText(table)} alter column ${nameText(newColumn.name)}`;
  const isOther = oldColumn.default !== newColumn.default;

  return [
    ...(oldColumn.default !== undefined && (isOther || isConverted) ? [`${column} drop default;\n`] : []),
    ...(isConverted && oldColumn.isNeeded ? [`${column} drop not null;\n`] : []),
    ...(isConverted
      ? [`${column} type ${nameOfType(newColumn.type)} using ${usingText(newColumn, keeps, enumerations)};\n`]
      : []),
    ...(newColumn.default !== undefined && (isOther || isConverted)
      ? [`${column} set default ${newColumn.default};\n`]
      : []),
  ];
}

/** What the values of a column become by themselves: what does not fit is none, until the rows are brought up to date. */
function usingText({ name, type }: Column, keeps: boolean, enumerations: ReadonlyMap<string, Enumeration>): string {
  const [column, target] = [nameText(name), nameOfType(type)];
  if (!keeps) return `null::${target}`;
  const values = enumerations.get(type)?.values;
  if (!values) return `${column}::${target}`;
  return `case when ${column}::text in (${values.map(textLiteral).join(', ')}) then ${column}::text::${target} end`;
}

/**
 * Statements that take away what no longer has to hold. Conditions have no names that could be known, so they are reported by
 * what the database makes of them: a table beside is given the same.
 */
export function retiredText({ name }: Table, { checks, unique, foreignKeys }: Retired): readonly string[] {
  const table = `${textLiteral(nameText(name))}::regclass`;
  const drop = `    execute format('alter table %s drop constraint %I', ${table}, found.conname);\n  end loop;\n`;

  const keyed = (key: readonly string[], kind: string, more = ''): string =>
    [
      `  for found in select conname from pg_constraint where conrelid = ${table} and contype = '${kind}'${more}\n`,
      '    and (select array_agg(attname::text order by attname::text collate "C") from pg_attribute where attrelid = conrelid and attnum = any(conkey))\n',
      `      = (select array_agg(one order by one collate "C") from unnest(array[${key.map(textLiteral).join(', ')}]) one) order by oid limit 1 loop\n`,
      drop,
    ].join('');

  const loops = [
    ...(checks.length === 0
      ? []
      : [
          `  create temp table said_before (like ${nameText(name)}) on commit drop;\n`,
          ...checks.map((check) => `  alter table said_before add check (${check});\n`),
          `  for found in select conname from (${numbered(table)}) held\n`,
          `    where (says, number) in (select says, number from (${numbered("'pg_temp.said_before'::regclass")}) said) loop\n`,
          drop,
          '  drop table said_before;\n',
        ]),
    ...unique.map((key) => keyed(key, 'u')),
    ...foreignKeys.map((key) =>
      keyed(key.columns, 'f', ` and confrelid = ${textLiteral(nameText(key.table))}::regclass`),
    ),
  ];

  if (loops.length === 0) return [];
  return [`do $said$ declare found record; begin\n${loops.join('')}end $said$;\n`];
}

/** The conditions of a table with what the database says of each; those that say the same are numbered. */
const numbered = (table: string): string =>
  `select conname, pg_get_constraintdef(oid) as says, row_number() over (partition by pg_get_constraintdef(oid) order by oid) as number from pg_constraint where contype = 'c' and conrelid = ${table}`;
