import { z } from 'zod';
import { type Entry, keyOf } from '../../core/entry/entry.ts';
import { TableChange } from '../../core/export/tables/changeTables.ts';
import type { Renamed } from '../../core/export/tables/matchTables.ts';
import { comment } from '../../core/export/tables/statements.ts';
import type { Row } from '../../core/export/tables/table.ts';
import { type Tables, tablesOf } from '../../core/export/tables/tablesOf.ts';
import { entryAfter, newEntries } from '../../core/migration/entriesAfter.ts';
import { link } from '../../core/model/link.ts';
import { type Pass, walk } from '../../passes/walk.ts';
import { openStore } from '../../stores/open.ts';
import type { EntryStore, Stored } from '../../stores/store.ts';
import type { Workspace } from '../../workspace/open.ts';
import { OutFiles } from '../../workspace/outFiles.ts';
import type { Call } from '../call.ts';
import { storeKeysOf } from '../exportModel.ts';
import { findMigration, type MigrationFile } from '../migrationFiles.ts';
import { reading } from '../openForCall.ts';
import { head, resultVersion } from '../result.ts';
import { type Migrating, migrateStored, prepared } from './migrateStored.ts';
import { type Proved, prove } from './prove.ts';
import { namesOf, refuseOtherStanding } from './rehearse.ts';
import { refuseOpenQuestions } from './run.ts';

export const MigrationSqlResult = z.strictObject({
  ...head('migration sql'),
  file: z.string(),
  number: z.int(),
  from: z.string(),
  to: z.string(),
  entries: z.int(),
  /** Tables that are changed where they stand, made anew with all their rows, or gone. */
  tables: z.strictObject({ kept: z.int(), made: z.int(), gone: z.int() }),
  /** The file that was written; nothing where it went to standard output. */
  out: z.string().optional(),
  /** What no column holds, before or after, and was left out. */
  lost: z.array(z.strictObject({ says: z.string(), entries: z.int(), example: z.string() })),
  /** How many things stand where an entry should and cannot be read as one: nothing is said of them. */
  unreadable: z.int(),
});
export type MigrationSqlResult = z.output<typeof MigrationSqlResult>;

/** Takes a text, and may have to be waited for. */
type Print = (text: string) => Promise<void> | undefined;

/**
 * Tells a migration as statements of SQL, for a database that `export sql` and `export entries --as sql` filled from the
 * entries as they are before it.
 * @param print takes the text where no file is named.
 */
export async function migrationSql(
  call: Call,
  meant: string | undefined,
  out: string | undefined,
  print: Print,
): Promise<MigrationSqlResult> {
  const workspace = await reading(call);
  const file = findMigration(workspace.root, meant);
  await refuseOtherStanding(workspace, file);
  refuseOpenQuestions(file);
  const proved = await prove(workspace, file);
  const store = openStore(workspace);
  const migrating = await prepared(store, proved.plan, file, call);
  const sides = new Sides(workspace, proved);
  const change = new TableChange(sides.before(), sides.after(), renamesIn(file));
  const files = out === undefined ? undefined : new OutFiles(out, false);
  const put = (text: string): Promise<void> | undefined => {
    if (!files) return text === '' ? undefined : print(text);
    files.write('', text);
    return undefined;
  };
  const lost = new Map<string, { says: string; entries: number; example: string }>();
  let counts = { entries: 0, unreadable: 0 };
  try {
    await put(headText(workspace, file, proved));
    await put(change.begin());
    // Nothing takes a place before what was there is out of it, so the entries are walked through twice.
    for (const statements of [change.deletes.bind(change), change.inserts.bind(change)]) {
      lost.clear();
      const [before, after] = [sides.before(), sides.after()];
      await put(statements(before.terms, after.terms));
      const rows = new RowsOfEntries({ before, after, migrating, lost });
      counts = await walkRows(store, rows, statements, { ...call, put });
    }
    await put(`${change.finish()}commit;\n`);
    files?.done();
  } catch (error) {
    files?.drop();
    throw error;
  }
  return {
    lumbrik: resultVersion,
    command: 'migration sql',
    ...namesOf(file, proved),
    ...counts,
    tables: change.counts(),
    ...(out === undefined ? {} : { out }),
    lost: [...lost.values()],
  };
}

function headText({ name }: Workspace, { file, migration }: MigrationFile, { from, to }: Proved): string {
  return [
    comment(`The content of ${name} from ${from.name} to ${to.name}, by ${file}.`),
    comment('For tables that hold the entries as they are before it: all of it or nothing.'),
    comment(`Written by lumbrik migration sql ${migration.number}.`),
    "\nbegin;\nset local time zone 'UTC';\n",
  ].join('');
}

/** The tables of both models, anew for each walk: they note which terms of open taxonomies were met. */
class Sides {
  readonly #workspace: Workspace;
  readonly #proved: Proved;

  constructor(workspace: Workspace, proved: Proved) {
    this.#workspace = workspace;
    this.#proved = proved;
  }

  before = (): Tables => this.#tables(this.#proved.from.definition);
  after = (): Tables => this.#tables(this.#proved.to.definition);

  #tables(definition: Proved['to']['definition']): Tables {
    const { model: working } = this.#workspace;
    const model = link(definition, working.contentTerms, working.readingOrder);
    return tablesOf({ model, types: [...model.types.values()], storeKeys: storeKeysOf(this.#workspace) });
  }
}

/** What the steps of a migration call otherwise: types and fields, by the last part of their addresses. */
const renamesIn = ({ migration }: MigrationFile): readonly Renamed[] =>
  migration.steps.flatMap(({ kind, address, data }) =>
    kind.verb === 'rename' && typeof data.to === 'string'
      ? [{ from: address.split(/[.:/]/u).filter(Boolean).at(-1) ?? '', to: data.to }]
      : [],
  );

interface Taking {
  readonly before: Tables;
  readonly after: Tables;
  readonly migrating: Migrating;
  readonly lost: Map<string, { says: string; entries: number; example: string }>;
}

/** The rows that entries are before and after, until they are asked for. */
class RowsOfEntries {
  readonly #taking: Taking;
  #was: Row[] = [];
  #is: Row[] = [];
  entries = 0;
  unreadable = 0;

  constructor(taking: Taking) {
    this.#taking = taking;
  }

  see(stored: Stored): void {
    const { before, after, migrating } = this.#taking;
    const migrated = migrateStored(stored, migrating);
    this.entries += 1;
    for (const row of before.rowsOf(stored.entry, () => undefined)) this.#was.push(row);
    const entries = [
      ...(migrated.draft.isDeleted ? [] : [entryAfter(stored.entry, migrated.draft)]),
      ...newEntries(migrated),
    ];
    for (const entry of entries)
      for (const row of after.rowsOf(entry, (says) => this.#lose(entry, says))) this.#is.push(row);
  }

  #lose(entry: Entry, says: string): void {
    const { lost } = this.#taking;
    const known = lost.get(says);
    if (known) known.entries += 1;
    else lost.set(says, { says, entries: 1, example: keyOf(entry) });
  }

  /** Hands over the rows so far. */
  take(): readonly [readonly Row[], readonly Row[]] {
    const rows = [this.#was, this.#is] as const;
    this.#was = [];
    this.#is = [];
    return rows;
  }
}

/** The rows of so many entries are told together. */
const together = 200;

/** Walks through all entries, and puts out statements about their rows. @returns how many there are. */
async function walkRows(
  store: EntryStore,
  rows: RowsOfEntries,
  statements: (was: readonly Row[], is: readonly Row[]) => string,
  { put, ...call }: Call & { readonly put: Print },
): Promise<{ readonly entries: number; readonly unreadable: number }> {
  const pass: Pass<Stored, void> = {
    map: (stored) => stored,
    fold: (stored) => {
      rows.see(stored);
      return rows.entries % together === 0 ? put(statements(...rows.take())) : undefined;
    },
    unreadable: () => {
      rows.unreadable += 1;
    },
    finish: () => undefined,
  };
  await walk(store, [pass], call);
  await put(statements(...rows.take()));
  return { entries: rows.entries, unreadable: rows.unreadable };
}
