import type { Json } from '../../plain/json.ts';
import { over } from './columnType.ts';
import { Names } from './sqlText.ts';
import type { Column, ForeignKey, Row, Table } from './table.ts';

/** A table while it grows. */
export class Draft {
  readonly name: string;
  readonly about: string;
  readonly names = new Names();
  readonly columns: Column[] = [];
  readonly primaryKey: string[] = [];
  readonly unique: string[][] = [];
  readonly checks: string[] = [];
  readonly foreignKeys: ForeignKey[] = [];
  readonly unsaid: string[] = [];
  readonly isSingle: boolean;
  /** The column with the status of the entry, where its rows have one. */
  status: string | undefined;
  /** Whether its rows are parts of those of another table: whether their entry is published is there. */
  isBelow = false;

  constructor(name: string, about: string, isSingle = false) {
    this.name = name;
    this.about = about;
    this.isSingle = isSingle;
  }

  column(wantedName: string, column: Omit<Partial<Column>, 'name'> & Pick<Column, 'type' | 'about'>): string {
    const name = this.names.of(wantedName);
    const { checks = [], isNeeded = false, ...rest } = column;
    this.columns.push({ ...rest, name, isNeeded, checks: checks.map((check) => over(check, name)) });
    return name;
  }

  /** No two rows may agree in these columns: said once, anyone who asks for it. */
  keepUnique(columns: readonly string[]): void {
    if (!this.unique.some((key) => key.join('\0') === columns.join('\0'))) this.unique.push([...columns]);
  }

  refer(columns: readonly string[], to: Pick<Table, 'name' | 'primaryKey'>): void {
    this.foreignKeys.push({ columns, table: to.name, target: to.primaryKey });
  }
}

/** Takes a value into a row, and its inner values into their own rows. */
export type Put = (value: Json, row: Row, outFile: RowOutput) => void;

/** Takes the rows of an entry, and its losses. */
export interface RowOutput {
  readonly rows: Row[];
  readonly lost: (loss: string) => void;
}

/** The columns of one value. */
export interface PlacedColumn {
  readonly put: Put;
  readonly columns: readonly string[];
  /** The columns that no two rows may agree in, each set by itself, where values are unique. */
  readonly keys: readonly (readonly string[])[];
  /** The condition that there is a value; absent where that shows in another table. */
  readonly isThere?: string;
}

/** A column that is wanted. */
export interface ColumnDemand {
  readonly name: string;
  readonly isNeeded: boolean;
  readonly about: string;
}
