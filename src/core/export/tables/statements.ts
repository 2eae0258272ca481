import { cellText, namesText, nameText, textLiteral } from './sqlText.ts';
import type { Column, Enumeration, ForeignKey, Row, Table } from './table.ts';

/** A line that the database does not read. */
export const comment = (text: string): string => `-- ${text.replace(/\s+/gu, ' ')}\n`;

/** its own type. */
export const enumerationText = ({ name, values }: Enumeration): string =>
  `create type ${nameText(name)} as enum (${values.map(textLiteral).join(', ')});\n\n`;

/** A table with all that goes for its rows alone. */
export function tableText({ name, columns, primaryKey, unique, checks, isSingle, unsaid }: Table): string {
  const lines = [
    ...columns.map(columnText),
    `primary key (${namesText(primaryKey)})`,
    ...unique.map((key) => `unique (${namesText(key)})`),
    ...checks.map((check) => `check (${check})`),
  ];
  return [
    ...unsaid.map((text) => comment(`Not said here: ${text}.`)),
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
export const nameOfType = (type: string): string => {
  if (builtIn.has(type)) return type;
  return nameText(type);
};

const builtIn = new Set(
  'text integer bigint numeric boolean date timestamptz timestamp time interval jsonb'.split(' '),
);

/** A key into another table, held at the end of a transaction: tables refer to each other in circles. */
export const foreignKeyText = ({ name }: Table, { columns, table, target }: ForeignKey): string =>
  `alter table ${nameText(name)} add foreign key (${namesText(columns)}) references ${nameText(table)} (${namesText(target)}) deferrable initially deferred;\n`;

/** The comments on a table and its columns. */
export const commentsText = (table: Table): readonly string[] => [
  `\n${tableCommentText(table)}`,
  ...table.columns.filter(({ about }) => about !== '').map((column) => columnCommentText(table, column)),
];

/** The statement that comments a table. */
export const tableCommentText = ({ name, about }: Table): string =>
  `comment on table ${nameText(name)} is ${textLiteral(about)};\n`;

/** Without a comment the old one is removed. */
export const columnCommentText = (table: Table, { name, about }: Column): string =>
  `comment on column ${nameText(table.name)}.${nameText(name)} is ${about === '' ? 'null' : textLiteral(about)};\n`;

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
