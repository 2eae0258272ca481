import { comment, commentsText, enumerationText, foreignKeyText, insertText, tableText } from '../tables/statements.ts';
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
