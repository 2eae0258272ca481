import { isFieldWord, isId, nameFrom } from '../definition/address.ts';
import { readField } from '../model/readField.ts';
import { compact, type Json, type JsonObject } from '../plain/json.ts';
import { humanize } from '../plain/words.ts';
import { DefinitionNames } from './definitionNames.ts';
import type { SchemaModel, Unsaid } from './schemaModel.ts';

/** A column of a table, as `information_schema` says it (ISO/IEC 9075-11). */
export interface ColumnRow {
  readonly table: string;
  readonly column: string;
  /** `udt_name`: the type itself, with `_` before it where the column holds an array of it. */
  readonly type: string;
  readonly isNullable: boolean;
  readonly length: number | null;
  readonly scale: number | null;
  readonly isGenerated: boolean;
  readonly comment: string | null;
}

/** A key of a table, as the database describes it. */
export interface KeyRow {
  readonly table: string;
  readonly name: string;
  readonly kind: 'primary' | 'unique' | 'foreign';
  readonly columns: readonly string[];
  /** What a foreign key leads to. */
  readonly target: string | null;
}

/** The tables of a database schema, as the database describes them. */
export interface DatabaseTables {
  readonly tables: readonly { readonly name: string; readonly comment: string | null }[];
  readonly columns: readonly ColumnRow[];
  readonly keys: readonly KeyRow[];
  readonly enumerations: Readonly<Record<string, readonly string[]>>;
  /** Conditions, as they are written. */
  readonly checks: readonly { readonly table: string; readonly condition: string }[];
}

/**
 * The model that the tables of a database say: a type for each, foreign keys as references, and a table that only joins two
 * others as a list of references in the first of them.
 */
export function fromTables(database: DatabaseTables): SchemaModel {
  return new TableReader(database).read();
}

class TableReader {
  readonly #database: DatabaseTables;
  readonly #unsaid: Unsaid[] = [];
  readonly #names = new Map<string, string>();

  constructor(database: DatabaseTables) {
    this.#database = database;
    const names = new DefinitionNames();
    for (const { name } of database.tables) {
      const expected = nameFrom(name);
      if (names.take(expected)) this.#names.set(name, expected);
      else this.#say(name, 'no type can be called so, or another one is');
    }
  }

  read(): SchemaModel {
    const { tables, checks } = this.#database;
    const joins = tables.filter(({ name }) => this.#isJoin(name)).map(({ name }) => name);
    const types = new Map<string, JsonObject>();
    for (const { name, comment } of tables) {
      const type = this.#names.get(name);
      if (type === undefined || joins.includes(name)) continue;

      const fields = { ...this.#fields(name), ...this.#joined(name, joins) };
      types.set(
        type,
        compact({
          label:
            humanize(type).toLowerCase() === name.replaceAll('_', ' ').toLowerCase()
              ? undefined
              : { one: name, many: name },
          about: comment ?? undefined,
          fields,
        }),
      );
    }

    for (const { table, condition } of checks)
      if (!isKnown(condition)) this.#say(table, `holds only where ${condition.replace(/\s+/gu, ' ')}`);

    return { types, unsaid: this.#unsaid };
  }

  #say(address: string, message: string): void {
    this.#unsaid.push({ at: address, says: message });
  }

  #keys = (table: string, kind: KeyRow['kind']): readonly KeyRow[] =>
    this.#database.keys.filter((key) => key.table === table && key.kind === kind);

  #columns = (table: string): readonly ColumnRow[] => this.#database.columns.filter((column) => column.table === table);

  /** Whether a table has nothing but two references, and perhaps their order. */
  #isJoin(table: string): boolean {
    const foreign = this.#keys(table, 'foreign').filter(({ columns }) => columns.length === 1);
    const otherColumns = this.#columns(table).filter(
      ({ column, isGenerated }) => !isGenerated && !foreign.some(({ columns }) => columns.includes(column)),
    );
    const isOrder = otherColumns.every(
      ({ type, column }) => /^int[248]$/u.test(type) && /^(?:position|sort|rank|ordinal|order|seq)/u.test(column),
    );

    return (
      foreign.length === 2 &&
      otherColumns.length <= 1 &&
      isOrder &&
      foreign.every(({ target }) => this.#names.has(target ?? ''))
    );
  }

  #fields(table: string): JsonObject {
    const [primary] = this.#keys(table, 'primary');
    if (!primary) this.#say(table, 'has no primary key, which identifiers would be');
    else if (primary.columns.length > 1) this.#say(table, `is told apart by ${primary.columns.join(', ')} together`);
    for (const { columns } of this.#keys(table, 'unique'))
      if (columns.length > 1) this.#say(table, `${columns.join(', ')} are unique together`);
    for (const { columns } of this.#keys(table, 'foreign'))
      if (columns.length > 1) this.#say(table, `${columns.join(', ')} point at another row together`);
    const isAlone = primary?.columns.length === 1;
    const fields: Record<string, Json> = {};
    for (const column of this.#columns(table)) {
      if (isAlone && primary.columns.includes(column.column) && !this.#isReference(table, column.column)) continue;
      const name = nameFrom(column.column);
      const address = `${table}.${column.column}`;
      if (!isFieldWord(name) || Object.hasOwn(fields, name))
        this.#say(address, 'no field can be called so, or another one is');
      else fields[name] = this.#field(table, column, address);
    }

    return fields;
  }

  #isReference = (table: string, column: string): boolean =>
    this.#keys(table, 'foreign').some(({ columns }) => columns.length === 1 && columns[0] === column);

  #field(
    table: string,
    { column, type, isNullable, length, scale, isGenerated, comment }: ColumnRow,
    address: string,
  ): JsonObject {
    const foreign = this.#keys(table, 'foreign').find(({ columns }) => columns.length === 1 && columns[0] === column);
    const target = foreign && this.#names.get(foreign.target ?? '');
    const isUnique = this.#keys(table, 'unique').some(({ columns }) => columns.length === 1 && columns[0] === column);
    const isMany = type.startsWith('_');
    const bounds = this.#bounds(table, column);
    const definition = compact({
      ...(target === undefined
        ? this.#kind(isMany ? type.slice(1) : type, { length: length ?? shortMax(bounds), scale }, address)
        : { kind: 'reference', to: target }),
      many: isMany || undefined,
      ...bounds,
      required: isNullable || isGenerated ? undefined : true,
      unique: isUnique || undefined,
      help: comment ?? undefined,
    }) as JsonObject;
    if (isGenerated) this.#say(address, 'is computed by the database');
    const { unique: _, ...less } = definition;
    if (readField(definition).mistakes.length === 0) return definition;

    this.#say(address, 'is unique, which a field of its kind cannot be');

    return less;
  }

  /** The limits that conditions over one column say. */
  #bounds(table: string, column: string): JsonObject {
    const checks = this.#database.checks.flatMap((check) =>
      check.table === table ? (boundsIn(check.condition) ?? []) : [],
    );
    return Object.assign(
      {},
      ...checks.filter((check) => check.column === column).map(({ bounds }) => bounds),
    ) as JsonObject;
  }

  #kind(type: string, { length, scale }: Pick<ColumnRow, 'length' | 'scale'>, address: string): JsonObject {
    const values = this.#database.enumerations[type];
    if (values) {
      if (values.every(isId)) return { kind: 'choice', choices: values };
      this.#say(address, 'names values that no choice can be called');
      return { kind: 'text' };
    }

    const kind = kinds[type];
    if (kind === undefined) {
      this.#say(address, `is of the type ${type}`);
      return { kind: 'text' };
    }
    if (kind === 'text') return length === null ? { kind: 'longText' } : { kind: 'text', max: length };
    if (kind === 'decimal' && scale !== null && scale > 0) return { kind, places: scale };
    return { kind };
  }

  /** The references that tables which only join make of a type. */
  #joined(table: string, joins: readonly string[]): JsonObject {
    const fields: Record<string, Json> = {};
    for (const join of joins) {
      // The first column says where the list is.
      const order = this.#columns(join).map(({ column }) => column);
      const [from, to] = this.#keys(join, 'foreign')
        .filter(({ columns }) => columns.length === 1)
        .toSorted((a, b) => order.indexOf(a.columns[0] ?? '') - order.indexOf(b.columns[0] ?? ''));
      if (!from || !to || from.target !== table) continue;

      const ownName = join.startsWith(`${table}_`) ? join.slice(table.length + 1) : join;
      const name = nameFrom(ownName);
      if (isFieldWord(name))
        fields[name] = { kind: 'reference', to: this.#names.get(to.target ?? '') ?? '', many: true };
    }

    return fields;
  }
}

/** A text with a limit of this or less is a short one. */
const short = 300;

const shortMax = ({ max }: JsonObject): number | null => {
  if (typeof max === 'number' && max <= short) return max;
  return null;
};

/** Whether a condition is stated by a field: that it has a value, and its limits. */
const isKnown = (condition: string): boolean =>
  /^\(*"?\w+"? (?:IS NOT NULL|<> ''(?:::\w+)?)\)*$/iu.test(condition) || boundsIn(condition) !== undefined;

/** The limits that a condition sets, where it is no more than that: of a number, or of the length of a text. */
function boundsIn(condition: string): { readonly column: string; readonly bounds: JsonObject } | undefined {
  const plain = condition.replace(/[()"]/gu, ' ').replace(/::\w+/gu, '').replace(/\s+/gu, ' ').trim();
  const column = '(?:char_length |length )?([a-z_]\\w*)';
  const number = "'?(-?\\d+(?:\\.\\d+)?)'?";
  const [, first, least, two, most] =
    new RegExp(`^${column} >= ${number} AND ${column} <= ${number}$`, 'iu').exec(plain) ?? [];
  if (first !== undefined && first === two) return { column: first, bounds: { min: Number(least), max: Number(most) } };

  const [, alone, sign, bound] = new RegExp(`^${column} (>=|<=) ${number}$`, 'iu').exec(plain) ?? [];

  if (alone === undefined) return undefined;
  return { column: alone, bounds: { [sign === '>=' ? 'min' : 'max']: Number(bound) } };
}

const kinds: Readonly<Record<string, string>> = {
  ...Object.fromEntries(['text', 'varchar', 'bpchar', 'name', 'citext', 'uuid', 'char'].map((name) => [name, 'text'])),
  ...Object.fromEntries(['int2', 'int4', 'int8'].map((name) => [name, 'integer'])),
  ...Object.fromEntries(['numeric', 'float4', 'float8', 'money'].map((name) => [name, 'decimal'])),
  ...Object.fromEntries(['json', 'jsonb', 'xml', 'hstore'].map((name) => [name, 'json'])),
  ...{
    bool: 'boolean',
    date: 'date',
    time: 'time',
    timestamptz: 'dateTime',
    timestamp: 'dateTime',
    interval: 'duration',
  },
};
