import { insertText } from '../tables/statements.ts';
import type { Row } from '../tables/table.ts';
import { tablesOf } from '../tables/tablesOf.ts';
import type { EntryFormat } from './define.ts';

/** Entries whose rows are inserted together. */
const together = 200;

/** Statements that fill the tables of `export sql`, in one transaction. */
export const sql: EntryFormat = {
  name: 'sql',
  about: 'SQL (PostgreSQL): what fills the tables that `export sql` makes',
  isFolder: () => false,
  writing: (exported) => {
    const { rowsOf } = tablesOf(exported);
    let [rows, count]: [Row[], number] = [[], 0];

    const flush = (): string => {
      const text = insertText(rows);
      [rows, count] = [[], 0];
      return text;
    };

    return {
      begin: () => ({ ending: '.sql', text: "begin;\nset local time zone 'UTC';\n" }),
      put: ({ stored }, lost) => {
        for (const row of rowsOf(stored, lost)) rows.push(row);
        count += 1;
        if (count < together) return [];
        return [{ ending: '.sql', text: flush() }];
      },
      finish: () => [{ ending: '.sql', text: `${flush()}commit;\n` }],
    };
  },
};
