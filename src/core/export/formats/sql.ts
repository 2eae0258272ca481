import { cellText, namesText, nameText, textLiteral } from '../tables/sqlText.ts';
import type { Column, Enumeration, ForeignKey, Row, Table } from '../tables/table.ts';
import { tablesOf } from '../tables/tablesOf.ts';
import type { ExportFormat } from './define.ts';

export const sql: ExportFormat = {
  name: 'sql',
  about: 'SQL (PostgreSQL): tables for the entries, with keys, checks, enumerations and comments',
  file: 'content.sql',
  text: ({ workspace, call, ...exported }) => {
    const { tables, enumerations, terms } = tablesOf(exported);
    return [
      `${comment(`The content of ${workspace}, as tables of PostgreSQL.`)}${comment(`Written by ${call}, and overwritten by it: not for editing.`)}\n`,
      'begin;\n\n',
      ...enumerations.map(enumerationText),
      ...tables.map(tableText),
      // Behind all tables, since they refer to each other in circles; held at the end of a transaction.
      ...tables.flatMap((table) => table.foreignKeys.map((key) => foreignKeyText(table, key))),
      ...tables.flatMap(commentsText),
      '\n',
      insertText(terms),
      'commit;\n',
    ].join('');
  },
};

const comment = (text: string): string => `-- ${text.replace(/\s+/gu, ' ')}\n`;

const enumerationText = ({ name, values }: Enumeration): string =>
  `create type ${nameText(name)} as enum (${values.map(textLiteral).join(', ')});\n\n`;

function tableText({ name, columns, primaryKey, unique, checks, isSingle, unsaid }: Table): string {
  const lines = [
    ...columns.map(columnText),
    `primary key (${namesText(primaryKey)})`,
    ...unique.map((key) => `unique (${namesText(key)})`),
    ...checks.map((check) => `check (${check})`),
  ];
  return [
    ...unsaid.map((one) => comment(`Not said here: ${one}.`)),
    `create table ${nameText(name)} (\n${lines.map((line) => `  ${line}`).join(',\n')}\n);\n`,
    isSingle ? `create unique index on ${nameText(name)} ((true));\n` : '',
    '\n',
  ].join('');
}

const columnText = ({ name, type, isNeeded, checks, generated, default: initial }: Column): string =>
  [
    `${nameText(name)} ${nameOfType(type)}`,
    isNeeded ? 'not null' : '',
    generated === undefined ? '' : `generated always as (${generated}) stored`,
    initial === undefined ? '' : `default ${initial}`,
    ...checks.map((check) => `check (${check})`),
  ]
    .filter(Boolean)
    .join(' ');

/** Types of the database stand as they are; those made here have names like others. */
const nameOfType = (type: string): string => (builtIn.has(type) ? type : nameText(type));

const builtIn = new Set(
  'text integer bigint numeric boolean date timestamptz timestamp time interval jsonb'.split(' '),
);

const foreignKeyText = ({ name }: Table, { columns, table, target }: ForeignKey): string =>
  `alter table ${nameText(name)} add foreign key (${namesText(columns)}) references ${nameText(table)} (${namesText(target)}) deferrable initially deferred;\n`;

const commentsText = ({ name, about, columns }: Table): readonly string[] => [
  `\ncomment on table ${nameText(name)} is ${textLiteral(about)};\n`,
  ...columns.flatMap((column) =>
    column.about === ''
      ? []
      : [`comment on column ${nameText(name)}.${nameText(column.name)} is ${textLiteral(column.about)};\n`],
  ),
];

/** So many rows are inserted at once. */
const together = 200;

/** Statements that insert rows: those of a table with the same columns together, in the order of the first. */
export function insertText(rows: readonly Row[]): string {
  const groups = new Map<string, Row[]>();
  for (const row of rows) {
    const key = JSON.stringify([row.table, ...row.cells.keys()]);
    const group = groups.get(key);
    if (group) group.push(row);
    else groups.set(key, [row]);
  }
  return [...groups.values()].flatMap(statements).join('');
}

function statements(rows: readonly Row[]): readonly string[] {
  const [first] = rows;
  if (!first) return [];
  const parts: string[] = [];
  for (let from = 0; from < rows.length; from += together) {
    const lines = rows
      .slice(from, from + together)
      .map(({ cells }) => `  (${[...cells.values()].map(cellText).join(', ')})`);
    parts.push(
      `insert into ${nameText(first.table)} (${namesText([...first.cells.keys()])}) values\n${lines.join(',\n')};\n`,
    );
  }
  return parts;
}
