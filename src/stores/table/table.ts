import { type Entry, ownFactKeys } from '../../core/entry/entry.ts';
import type { Operation } from '../../core/migration/operation.ts';
import { type CellKinds, cellKind, cellValue } from '../../core/model/cells.ts';
import { type Json, type Path, withKey } from '../../core/plain/json.ts';
import type { Outcome } from '../../core/plain/outcome.ts';
import { type Span, textStart } from '../../core/source/yaml.ts';
import { refusingEdits } from '../../workspace/edited.ts';
import { hashBytes } from '../../workspace/files.ts';
import { refuse, type Trouble } from '../../workspace/trouble.ts';
import { entryAfterOperation } from '../applyOperation.ts';
import type { KeyNames } from '../keys.ts';
import { type FilePart, ManyInFile, type ManyInFileSettings, startingAt, type WholeRead } from '../manyInFile.ts';
import { changedMeanwhile } from '../problem.ts';
import type {
  EntryChange,
  EntryStore,
  FileSink,
  Item,
  NewEntry,
  Place,
  Problem,
  Stored,
  Transaction,
} from '../store.ts';
import { flattened, nested, partsOf } from './cells.ts';
import { bytesIn, type Encoding, textIn } from './encoding.ts';
import { delimiterIn, headedRows, type NoTable, type Row, rowsOf } from './rows.ts';
import { type Table, type TableChanges, writtenTable } from './writeTable.ts';

/** Files in which each row is an entry (CSV, RFC 4180, and TSV); the first row names the columns. */
export interface TableSettings extends ManyInFileSettings {
  /** The text between cells; found in the file where nothing is stated. */
  readonly delimiter: string | undefined;
  readonly encoding: Encoding | undefined;
  /** The text between the items of a list; the default depends on the delimiter. */
  readonly separator: string | undefined;
  /** What cells stand for. */
  readonly kinds: CellKinds;
}

/** The store of entries that are rows of tables, which are read as a whole. */
export class TableStore extends ManyInFile<Table> implements EntryStore<FilePart> {
  readonly #settings: TableSettings;

  constructor(root: string, settings: TableSettings) {
    super(root, settings);
    this.#settings = settings;
  }

  protected override *itemsIn(file: string, table: Table): Iterable<Item> {
    for (const row of table.rows) yield this.#itemOf(file, table, row);
  }

  async locate({ file, offset }: Place, path: Path): Promise<Span> {
    const outcome = this.known(file);
    if ('problem' in outcome) return textStart;

    const table = outcome.value;
    const row = startingAt(table.rows, offset);
    if (!row) return textStart;

    const cell = row.cells[columnAt(table.columns, this.#settings.keys.path(path))];
    const { start, end } = cell ?? { start: row.start, end: row.start };
    return { start: positionIn(table.text, row, start), end: positionIn(table.text, row, end) };
  }

  async attempt({ stored, operations = [] }: EntryChange): Promise<void> {
    if (stored) refusingEdits(stored.place.file, () => this.#changed(stored, operations));
  }

  begin(sink: FileSink): Transaction {
    const files = new Map<string, EntryChanges>();
    const changesOf = (file: string): EntryChanges => {
      const existing = files.get(file) ?? {
        rows: new Map<number, Entry | undefined>(),
        added: [],
        renamed: new Map<string, string>(),
      };
      files.set(file, existing);
      return existing;
    };

    return {
      change: async ({ stored, operations = [], added = [] }) => {
        if (stored && operations.length > 0) {
          const changes = changesOf(stored.place.file);
          changes.rows.set(
            stored.place.offset ?? 0,
            refusingEdits(stored.place.file, () => this.#changed(stored, operations)),
          );

          for (const nextOperation of operations) {
            const operation = this.#settings.keys.operation(nextOperation);
            if (operation.do !== 'rename') continue;
            const above = operation.inside.map((key) => `${key}.`).join('');
            changes.renamed.set(above + operation.key, above + operation.to);
          }
        }

        const file = stored?.place.file ?? this.#settings.files[0] ?? '';
        if (added.length > 0) changesOf(file).added.push(...added);
      },
      prepare: async () => {
        for (const [file, changes] of files) {
          const read = this.readFile(file);
          if ('problem' in read) throw changedMeanwhile({ type: '', id: file }, file);

          const table = read.value;
          const bytes = bytesIn(
            writtenTable(table, this.#flat(table, changes), this.#separatorIn(table)),
            this.#settings.encoding,
          );
          if (!bytes) throw unencodable(file, this.#settings.encoding);
          sink.add({ before: { path: file, hash: table.hash, bytes: table.bytes }, after: { path: file, bytes } });
        }
      },
    };
  }

  /** An entry after some operations; nothing where it was deleted. @throws {Trouble} where it is another one now. */
  #changed(stored: Stored, operations: readonly Operation[]): Entry | undefined {
    const { file, offset } = stored.place;
    const outcome = this.known(file);
    const table = 'problem' in outcome ? undefined : outcome.value;
    const row = table && startingAt(table.rows, offset);
    const item = row && this.#itemOf(file, table, row);
    if (!item || item.version !== stored.version) throw changedMeanwhile(stored.entry, file);

    const entry = this.#withType(operations.reduce<Entry | undefined>(entryAfterOperation, stored.entry), stored.entry);
    return entry;
  }

  /** An entry that went into another type says so among its values, as a table keeps it. @throws {Trouble} where it cannot. */
  #withType(entry: Entry | undefined, before: Entry): Entry | undefined {
    if (!entry || entry.type === before.type) return entry;
    this.#settings.keys.typeKeyToWrite(this.#settings.type);
    const { type: key = 'type' } = ownFactKeys(entry);
    return { ...entry, values: withKey(entry.values, key, entry.type) };
  }

  /** Changes of entries as changes of columns. */
  #flat({ columns }: Table, { rows, added, renamed }: EntryChanges): TableChanges {
    const { keys, type } = this.#settings;
    const knownColumns = new Set(columns);
    const flat = (values: Entry['values']): ReadonlyMap<string, Json> => flattened(keys.stored(values), knownColumns);
    return {
      rewritten: new Map([...rows].map(([start, entry]) => [start, entry && flat(entry.values)])),
      added: added.map((entry) => flat(valuesOfNew(entry, keys, type))),
      renamed,
    };
  }

  protected override understand(file: string, content: WholeRead): Outcome<Table, Problem> {
    const decoded = textIn(content.bytes, this.#settings.encoding);
    if ('problem' in decoded) return decoded;

    const text = decoded.value;
    const delimiter = this.#settings.delimiter ?? delimiterIn(text, file);
    const read = rowsOf(text, delimiter);
    const unreadable = (problem: NoTable): Outcome<Table, Problem> => ({ problem: { ...problem, column: 1 } });
    if ('problem' in read) return unreadable(read.problem);

    const headed = headedRows(read.value);
    if (!headed)
      return unreadable({ says: 'is empty', mend: 'Write the names of the columns in its first row.', line: 1 });

    const { header, columns, rows } = headed;
    const wrong = wrongColumns(columns, this.#settings.keys.of('id') ?? 'id');
    if (wrong) return unreadable({ ...wrong, line: header.line });
    return { value: { ...content, text, delimiter, header, columns, rows } };
  }

  #itemOf(file: string, table: Table, row: Row): Item {
    const { keys, type: usual, name: store } = this.#settings;
    const place = { store, file, offset: row.start, line: row.line };
    const version = hashBytes(table.text.slice(row.start, row.end));

    const problem = (message: string, mend: string): Item => ({
      place,
      version,
      problem: { says: message, mend, line: row.line, column: 1 },
    });

    const { length } = table.columns;
    if (row.cells.length > length)
      return problem(
        `has ${row.cells.length} cells, and the first row names ${length}`,
        'Put what holds a separator in quotes.',
      );

    const textIn = (column: string): string => row.cells[table.columns.indexOf(column)]?.text.trim() ?? '';
    const id = textIn(keys.of('id') ?? 'id');
    if (id === '') return problem('has no identifier', `Give it one in the column \`${keys.of('id') ?? 'id'}\`.`);

    const typeKey = keys.typeKey(usual);
    const typeCell = typeKey === undefined ? '' : textIn(typeKey);
    const type = typeCell === '' ? (usual ?? '') : typeCell;

    return { place, version, entry: { type, id, values: this.#valuesOf(table, row, type), ...keys.stated } };
  }

  #separatorIn({ delimiter }: Table): string {
    return this.#settings.separator ?? (delimiter === ';' ? '| ' : '; ');
  }

  #valuesOf(table: Table, row: Row, type: string): Entry['values'] {
    const { kinds, keys } = this.#settings;
    const { columns } = table;
    const separator = this.#separatorIn(table);
    const names = columns.map((column) => nameOf(column, keys));
    const cells = columns.flatMap((column, index): readonly (readonly [string, Json])[] => {
      const value = cellValue(row.cells[index]?.text ?? '', cellKind(kinds, type, names[index] ?? column), separator);
      if (value === undefined) return [];
      return [[names[index] ?? column, value]];
    });

    return nested(cells);
  }
}

/** The outcome for the entries of a file. */
interface EntryChanges {
  readonly rows: Map<number, Entry | undefined>;
  readonly added: NewEntry[];
  /** Columns that got other names. */
  readonly renamed: Map<string, string>;
}

function valuesOfNew({ type, id, values }: NewEntry, keys: KeyNames, usual: string | undefined): Entry['values'] {
  const typeKeys = type === usual ? {} : { [keys.typeKeyToWrite(usual)]: type };
  return { [keys.of('id') ?? 'id']: id, ...typeKeys, ...values };
}

/** The refusal of a file that would have characters which its encoding does not have. */
const unencodable = (file: string, encoding: Encoding | undefined): Trouble =>
  refuse('encoding', `${file} would have characters that ${encoding} does not have`, {
    mend: 'Save it as UTF-8, and take `encoding` out of lumbrik.yaml.',
    where: { file },
  });

function wrongColumns(columns: readonly string[], idColumn: string): Pick<Problem, 'says' | 'mend'> | undefined {
  const repeated = columns.find((name, index) => columns.indexOf(name) !== index);
  if (repeated !== undefined)
    return { says: `names the column \`${repeated}\` twice`, mend: 'Give one of the two another name.' };
  if (columns.includes(idColumn)) return undefined;
  return {
    says: `has no column \`${idColumn}\`, which holds the identifiers`,
    mend: 'Add it, or say in lumbrik.yaml which column it is: `keys: { id: … }`',
  };
}

/** What the workspace calls a column: a field, or what is in its groups. */
function nameOf(column: string, keys: KeyNames): string {
  const key = keys.usualKey(column);
  if (key !== column) return key;
  const [first = '', ...inside] = partsOf(column);
  return [keys.usualKey(first), ...inside].join('.');
}

/** The number of the column that a path leads to, or of the nearest around it; less than nought where there is none. */
function columnAt(columns: readonly string[], path: Path): number {
  const keys = path.filter((part) => typeof part === 'string');
  for (let length = keys.length; length > 0; length -= 1) {
    const index = columns.indexOf(keys.slice(0, length).join('.'));
    if (index >= 0) return index;
  }

  return -1;
}

function positionIn(text: string, { start, line }: Row, offset: number): Span['start'] {
  const before = text.slice(start, offset);
  const feeds = before.split('\n').length - 1;
  return { line: line + feeds, column: feeds === 0 ? before.length + 1 : before.length - before.lastIndexOf('\n') };
}
