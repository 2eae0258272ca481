import { z } from 'zod';
import type { ModelDoc } from '../../core/definition/model.ts';
import { TableChange } from '../../core/export/tables/changeTables.ts';
import type { Renamed } from '../../core/export/tables/matchTables.ts';
import { comment } from '../../core/export/tables/statements.ts';
import type { Row } from '../../core/export/tables/table.ts';
import { type Tables, tablesOf } from '../../core/export/tables/tablesOf.ts';
import { entryAfter, newEntries } from '../../core/migration/entriesAfter.ts';
import { link } from '../../core/model/link.ts';
import { eachEntry, type Pass } from '../../passes/pass.ts';
import { walk } from '../../passes/walk.ts';
import { openStore } from '../../stores/open.ts';
import type { Workspace } from '../../workspace/open.ts';
import { OutFiles } from '../../workspace/outFiles.ts';
import type { Call } from '../call.ts';
import { factKeysIn } from '../exportModel.ts';
import { Loss, Losses } from '../losses.ts';
import { findMigration, type MigrationFile } from '../migrationFiles.ts';
import { reading } from '../openForCall.ts';
import { OutgoingText, type Print } from '../outgoingText.ts';
import { head, resultVersion } from '../result.ts';
import { type Migrating, migrateStored, prepared } from './migrateStored.ts';
import { type Proved, prove } from './prove.ts';
import { namesOf, refuseOtherStanding } from './rehearse.ts';
import { refuseOpenQuestions } from './run.ts';

/** The result of `lumbrik migration sql`. */
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
  lost: z.array(Loss),
  /** How many things are where an entry should and cannot be read as one: nothing is stated of them. */
  unreadable: z.int(),
});
export type MigrationSqlResult = z.output<typeof MigrationSqlResult>;

/**
 * Tells a migration as statements of SQL, for a database that `export sql` and `export entries --as sql` filled from the
 * entries as they are before it.
 * @param print takes the text where no file is named.
 */
export async function migrationSql(
  call: Call,
  typed: string | undefined,
  outFile: string | undefined,
  print: Print,
): Promise<MigrationSqlResult> {
  const workspace = await reading(call);
  const file = findMigration(workspace.root, typed);
  await refuseOtherStanding(workspace, file);
  refuseOpenQuestions(file);
  const proved = await prove(workspace, file);
  const store = openStore(workspace);
  const migrating = await prepared(store, proved.plan, file, call);

  const sides = () => ({
    before: tablesIn(workspace, proved.from.definition),
    after: tablesIn(workspace, proved.to.definition),
  });
  const { before, after } = sides();
  const change = new TableChange(before, after, renamesIn(file));
  const outFiles = outFile === undefined ? undefined : new OutFiles(workspace.root, outFile, false);
  const text = new OutgoingText(outFiles, print);

  const walkRows = async (write: Say): Promise<Walked> => {
    // Made anew for each walk: they note which terms of open taxonomies they met.
    const [walked] = await walk(store, [rowsPass({ ...sides(), migrating, write, text })], call);
    return walked;
  };

  const walked = await text.whole(async () => {
    const guard = change.guard();
    text.put(headText(workspace, file, proved) + guard.begin());
    await walkRows((oldRows) => guard.expect(oldRows));
    text.put(guard.end() + change.begin());
    // Nothing takes a place before what was there is out of it, so the entries are walked through twice more.
    await walkRows((oldRows, newRows) => change.deletes(oldRows, newRows));
    const walked = await walkRows((oldRows, newRows) => change.inserts(oldRows, newRows));
    text.put(`${change.finish()}commit;\n`);
    return walked;
  });

  return {
    lumbrik: resultVersion,
    command: 'migration sql',
    ...namesOf(file, proved),
    ...walked,
    tables: change.counts(),
    ...(outFile === undefined ? {} : { out: outFile }),
  };
}

function headText({ name }: Workspace, { file, migration }: MigrationFile, { from, to }: Proved): string {
  return [
    comment(`The content of ${name} from ${from.name} to ${to.name}, by ${file}.`),
    comment('For tables that hold the entries as they are before it: all of it or nothing.'),
    comment('It stops where they hold something else, or where a view or a key of others depends on what goes.'),
    comment(`Written by lumbrik migration sql ${migration.number}.`),
    "\nbegin;\nset local time zone 'UTC';\n",
  ].join('');
}

function tablesIn(workspace: Workspace, definition: ModelDoc): Tables {
  const { contentTerms, readingOrder } = workspace.model;
  const model = link(definition, contentTerms, readingOrder);
  return tablesOf({ model, types: [...model.types.values()], factKeys: factKeysIn(workspace) });
}

/** What the steps of a migration call otherwise: types and fields, by the last part of their addresses. */
const renamesIn = ({ migration }: MigrationFile): readonly Renamed[] =>
  migration.steps.flatMap(({ kind, address, data }) =>
    kind.verb === 'rename' && typeof data.to === 'string'
      ? [{ from: address.split(/[.:/]/u).filter(Boolean).at(-1) ?? '', to: data.to }]
      : [],
  );

/** Says in statements the outcome for some rows. */
type Say = (oldRows: readonly Row[], newRows: readonly Row[]) => string;

interface Walking {
  readonly before: Tables;
  readonly after: Tables;
  readonly migrating: Migrating;
  readonly write: Say;
  readonly text: OutgoingText;
}

/** What a walk through the entries tells. */
type Walked = Pick<MigrationSqlResult, 'entries' | 'unreadable' | 'lost'>;

/** The rows of so many entries are reported together. */
const together = 200;

/** Puts out statements about the rows of every entry; those that the models have themselves come first. */
function rowsPass({ before, after, migrating, write, text }: Walking): Pass<Walked> {
  const losses = new Losses();
  let [oldRows, newRows]: [Row[], Row[]] = [[...before.terms], [...after.terms]];
  let [entries, unreadable] = [0, 0];

  const putRows = (): void => {
    text.put(write(oldRows, newRows));
    [oldRows, newRows] = [[], []];
  };

  return eachEntry({
    see: (stored) => {
      const { entry } = stored;
      const migrated = migrateStored(stored, migrating);
      for (const row of before.rowsOf(entry, () => undefined)) oldRows.push(row);
      const { draft } = migrated;
      const become = [...(draft.isDeleted ? [] : [entryAfter(entry, draft)]), ...newEntries(migrated)];
      for (const entry of become)
        for (const row of after.rowsOf(entry, (loss) => losses.add(entry, loss))) newRows.push(row);
      entries += 1;
      if (entries % together > 0) return undefined;

      putRows();
      return text.flush();
    },
    unreadable: () => {
      unreadable += 1;
    },
    finish: () => {
      putRows();
      return { entries, unreadable, lost: losses.all() };
    },
  });
}
