import { namesText, nameText, textLiteral } from './sqlText.ts';
import { insertText } from './statements.ts';
import type { Row, Table } from './table.ts';

/**
 * Statements that stop a migration where tables hold something else than the entries had: such rows and values would be
 * lost. Tables from which something goes are compared row by row, all others by the number of their rows.
 */
export class TableGuard {
  readonly #tables: readonly Table[];
  /** Tables from which something goes, with the tables beside them that hold the expected rows. */
  readonly #expected: ReadonlyMap<string, string>;
  readonly #counts = new Map<string, number>();

  constructor(tables: readonly Table[], losing: ReadonlySet<Table>) {
    this.#tables = tables;
    this.#expected = new Map([...losing].map(({ name }, index) => [name, `expected_rows_${index + 1}`]));
  }

  /** Keeps others from writing, and makes the tables beside. */
  begin(): string {
    if (this.#tables.length === 0) return '';
    return [
      `lock table ${namesText(this.#tables.map(({ name }) => name))} in share row exclusive mode;\n`,
      ...[...this.#expected].map(
        ([name, beside]) =>
          `create temp table ${beside} (like ${nameText(name)} including defaults including generated) on commit drop;\n`,
      ),
    ].join('');
  }

  /** Statements that say what some entries had. */
  expect(rows: readonly Row[]): string {
    for (const { table } of rows) this.#counts.set(table, (this.#counts.get(table) ?? 0) + 1);
    return insertText(
      rows.flatMap(({ table, cells }) => {
        const beside = this.#expected.get(table);
        if (beside === undefined) return [];
        return [{ table: beside, cells }];
      }),
    );
  }

  /** Statements that compare; each stops the transaction. */
  end(): string {
    const compared = this.#tables.map((table) => this.#compared(table)).join('');
    // Types of columns that go could not be dropped while these have them.
    if (this.#expected.size === 0) return compared;
    return `${compared}drop table ${[...this.#expected.values()].join(', ')};\n`;
  }

  #compared({ name, columns }: Table): string {
    const table = nameText(name);
    const count = this.#counts.get(name) ?? 0;
    const beside = this.#expected.get(name);
    const written = columns.filter(({ generated }) => generated === undefined);
    const cells = written.map((column) => `${nameText(column.name)}::text`).join(', ');
    const differs =
      beside === undefined || written.length === 0
        ? ''
        : `\n    or exists (select ${cells} from ${table} except select ${cells} from ${beside})`;

    return [
      'do $guard$ begin\n',
      `  if (select count(*) from ${table}) <> ${count}${differs} then\n`,
      `    raise exception ${textLiteral(`table ${name} holds other rows than the entries had`)}\n`,
      "      using hint = 'Bring both to the same state, then write the statements anew; nothing was changed.';\n",
      '  end if;\nend $guard$;\n',
    ].join('');
  }
}
