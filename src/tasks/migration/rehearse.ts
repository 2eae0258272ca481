import path from 'node:path';
import { z } from 'zod';
import { keyOf } from '../../core/entry/entry.ts';
import { isError } from '../../core/entry/severities.ts';
import { compact, pointer } from '../../core/plain/json.ts';
import { JsonValue } from '../../core/plain/jsonValue.ts';
import { sizeOf, whyNoSpace, whyUnwritable } from '../../journal/writable.ts';
import { aheadPass } from '../../passes/ahead.ts';
import { circumstancesOf } from '../../passes/circumstances.ts';
import { digestPass } from '../../passes/digest.ts';
import { type Rehearsed, rehearsePass } from '../../passes/rehearse.ts';
import { walk } from '../../passes/walk.ts';
import { openStore } from '../../stores/open.ts';
import type { EntryStore } from '../../stores/store.ts';
import { whyNoKey } from '../../workspace/localKey.ts';
import type { Workspace } from '../../workspace/open.ts';
import { refuse } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { findMigration, type MigrationFile, misfitTrouble, readMigrations, wasRun } from '../migrationFiles.ts';
import { obeyedModel } from '../modelOfEntries.ts';
import { reading } from '../openForCall.ts';
import { head, resultVersion } from '../result.ts';
import { compareErrors, ErrorsAfter, errorsIn } from './errorsAfter.ts';
import { type Migrating, prepared } from './migrateStored.ts';
import { afterAll, waiting } from './pendingMigrations.ts';
import { type Proved, prove } from './prove.ts';
import { recordRehearsal } from './rehearsals.ts';
import { Sample, samplesOf } from './samples.ts';
import { ThereAndBack, thereAndBack } from './thereAndBack.ts';

const Lost = z.strictObject({
  entry: z.string(),
  pointer: z.string(),
  value: JsonValue,
  why: z.string(),
  becomes: JsonValue.optional(),
});

const StepResult = z.strictObject({
  step: z.int(),
  verb: z.string(),
  address: z.string(),
  /** How many entries it changes. */
  entries: z.int(),
  /** The entries that it makes. */
  made: z.array(z.string()),
  samples: z.array(Sample),
  open: z.string().optional(),
});

/** The result of `lumbrik migration rehearse`. */
export const RehearseResult = z.strictObject({
  ...head('migration rehearse'),
  /** Whether nothing is in the way of running it, and the check would be clean. */
  ok: z.boolean(),
  file: z.string(),
  number: z.int(),
  from: z.string(),
  to: z.string(),
  /** Migrations that have to be run before: it was rehearsed on the entries as they will be then. */
  ahead: z.array(z.string()),
  steps: z.array(StepResult),
  openQuestions: z.int(),
  /** How many entries there are, how many of them would change, and how many files would be written. */
  entries: z.int(),
  changed: z.int(),
  /** How many entries would come that are new. */
  made: z.int(),
  files: z.int(),
  /** Values that are gone afterwards, or that something else stands for (`becomes`). */
  lost: z.array(Lost),
  /** Findings of severity error before, by the model that the entries obey, and after, by the new one. */
  errorsBefore: z.int(),
  errorsAfter: z.int(),
  /** What entries are once they were taken there and back; absent where that was not asked for. */
  back: ThereAndBack.optional(),
  /** Why the journal of a run could not be recognised later as made here; absent where it could. */
  unmarked: z.string().optional(),
  /** Why a run could not write what it would; absent where nothing speaks against it. */
  hindered: z.strictObject({ says: z.string(), mend: z.string() }).optional(),
  ...ErrorsAfter,
});
export type RehearseResult = z.output<typeof RehearseResult>;

/** The options of a rehearsal. */
export interface RehearseCall {
  /** Whether every entry is taken there and back as well. */
  readonly prove?: boolean;
  /** That nobody is shown it before a run, so that it does not count as seen. */
  readonly isAside?: true;
}

/** Runs a migration on the real entries without writing a byte of them. */
export async function rehearse(
  call: Call,
  typed: string | undefined,
  { prove: isProved = false, isAside }: RehearseCall = {},
): Promise<RehearseResult> {
  const workspace = await reading(call);
  const file = findMigration(workspace.root, typed);

  const chain = await chainBefore(workspace, file);
  if (chain.length === 0) await refuseOtherStanding(workspace, file);
  const proved = await prove(workspace, file);
  const store = await afterAll(openStore(workspace), chain, workspace);
  const migrating = await prepared(store, proved.plan, file, call);
  const {
    told: rehearsed,
    digest,
    errorsBefore,
    errorsAfter,
  } = await onEntries(workspace, { store, proved, ...migrating }, call);
  const back = isProved ? await thereAndBack(store, migrating, call) : undefined;
  const { steps: ofSteps } = file.migration;
  const hindered = hindranceOf(workspace.root, rehearsed.files);
  const openQuestions = ofSteps.filter(({ open }) => open !== undefined).length;
  if (openQuestions === 0 && chain.length === 0 && !isAside)
    recordRehearsal(workspace.root, { migration: file.hash, content: digest });

  return {
    lumbrik: resultVersion,
    command: 'migration rehearse',
    ok: openQuestions === 0 && errorsAfter.length === 0 && (back?.wrong.length ?? 0) === 0 && !hindered,
    ...namesOf(file, proved),
    ahead: chain.map((migrationFile) => migrationFile.file),
    steps: ofSteps.map((step) => stepResult(step, rehearsed.perStep.get(step.number))),
    openQuestions,
    entries: rehearsed.entries,
    changed: rehearsed.changed,
    made: rehearsed.made,
    files: rehearsed.files.size,
    lost: rehearsed.lost.map(({ path, ...loss }) => ({ ...loss, pointer: pointer(path) })),
    errorsBefore: errorsBefore.count,
    errorsAfter: errorsAfter.length,
    ...compact({ back, unmarked: whyNoKey(), hindered }),
    ...compareErrors(errorsBefore, errorsAfter, ofSteps),
  };
}

/** What a step did to the entries of the rehearsal. */
function stepResult(
  { number, kind, address, open }: MigrationFile['migration']['steps'][number],
  changes: ReturnType<Rehearsed['perStep']['get']>,
): RehearseResult['steps'][number] {
  const entries = changes?.entries ?? 0;
  const made = [...(changes?.made ?? [])];
  return compact({
    step: number,
    verb: kind.verb,
    address,
    entries,
    made,
    samples: [...samplesOf(changes?.samples)],
    open,
  });
}

/** What would stop a run that writes some files. */
function hindranceOf(root: string, files: ReadonlySet<string>): RehearseResult['hindered'] {
  // The journal keeps what each file was and its new state, and the new ones are written beside the old.
  const bytes = [...files].reduce((sum, file) => sum + sizeOf(path.join(root, file)), 0);
  const trouble = whyUnwritable(root, files) ?? whyNoSpace(root, 3 * bytes);
  return trouble && { says: trouble.message, mend: trouble.mend };
}

interface OnStore extends Migrating {
  readonly store: EntryStore;
  readonly proved: Proved;
}

/** Takes every entry of a store through a migration, and checks them all before and after. */
async function onEntries(workspace: Workspace, { store, proved, file, ...migrating }: OnStore, call: Call) {
  const circumstances = await circumstancesOf(workspace.root);
  const passes = [
    aheadPass(proved.plan.before, circumstances),
    rehearsePass({
      ...circumstances,
      ...migrating,
      data: {
        migration: file.source.data,
        from: proved.from.definition,
        to: proved.to.definition,
        layout: workspace.model.definition,
      },
      refuse: (misfit) => misfitTrouble(file, misfit),
    }),
    digestPass(),
  ] as const;
  const [before, rehearsed, digest] = await walk(store, passes, call);
  const errorsAfter = rehearsed.findings
    .filter(isError)
    .map((finding) => compact({ ...finding, was: rehearsed.renamed.get(keyOf(finding.entry)) }));

  return { told: rehearsed, digest, errorsBefore: errorsIn(before), errorsAfter };
}

/** The migrations that have to be run before one, where they lead from where the entries are to where it starts. */
async function chainBefore(workspace: Workspace, { migration }: MigrationFile): Promise<readonly MigrationFile[]> {
  const obeyed = await obeyedModel(workspace);
  const chain = waiting(readMigrations(workspace.root), obeyed.hash, workspace);
  return chain.slice(0, chain.findIndex((migrationFile) => migrationFile.migration.to === migration.from) + 1);
}

/** The file and the models of a migration, for a result. */
export const namesOf = (file: MigrationFile, { from, to }: Proved) => ({
  file: file.file,
  number: file.migration.number,
  from: from.name,
  to: to.name,
});

/** Refuses a migration that does not start where the entries stand. */
export async function refuseOtherStanding(workspace: Workspace, migrationFile: MigrationFile): Promise<void> {
  const { file, migration } = migrationFile;
  const obeyedHash = workspace.records.contentRevision;
  if (wasRun(workspace.root, migrationFile, obeyedHash))
    throw refuse('already-run', `${file} has been run: the entries obey the model that it leads to`, {
      mend: 'Nothing to do. Take it back with lumbrik migration undo.',
      where: { file },
    });

  const obeyed = await obeyedModel(workspace);
  if (obeyed.hash !== migration.from)
    throw refuse('other-standing', `${file} does not start from where the entries are: they obey ${obeyed.name}`, {
      mend: 'Look at lumbrik migration list, and run the migrations in their order.',
      where: { file },
    });
}
