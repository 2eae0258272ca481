/** A table of a relational database: plain data, in the words of SQL (ISO/IEC 9075) as PostgreSQL speaks it. */
export interface Table {
  readonly name: string;
  readonly about: string;
  readonly columns: readonly Column[];
  readonly primaryKey: readonly string[];
  readonly unique: readonly (readonly string[])[];
  /** Conditions over several columns. */
  readonly checks: readonly string[];
  readonly foreignKeys: readonly ForeignKey[];
  /** Whether it holds one row at most. */
  readonly isSingle: boolean;
  /** Rules of the model that SQL cannot express. */
  readonly unsaid: readonly string[];
}

/** A column of a table. */
export interface Column {
  readonly name: string;
  /** A type of PostgreSQL, or the name of an enumeration. */
  readonly type: string;
  readonly isNeeded: boolean;
  readonly checks: readonly string[];
  /** The expression that it always is: nobody writes it. */
  readonly generated?: string | undefined;
  readonly default?: string | undefined;
  readonly about: string;
}

/** A key that points at rows of another table. */
export interface ForeignKey {
  readonly columns: readonly string[];
  readonly table: string;
  readonly target: readonly string[];
}

/** An enumeration type with its values. */
export interface Enumeration {
  readonly name: string;
  readonly values: readonly string[];
}

/** A value in a row. */
export type Cell = null | boolean | number | string | { readonly json: unknown };

/** A row on its way: the table it goes into and its content, by column. */
export interface Row {
  readonly table: string;
  readonly cells: Map<string, Cell>;
}
