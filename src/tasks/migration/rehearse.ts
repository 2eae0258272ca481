import { z } from 'zod';
import { keyOf } from '../../core/entry/entry.ts';
import type { Migrated, StepEffect } from '../../core/migration/plan.ts';
import { compact, pointer } from '../../core/plain/json.ts';
import { JsonValue } from '../../core/plain/jsonValue.ts';
import { CheckAhead } from '../../passes/check.ts';
import { type Pass, walk } from '../../passes/walk.ts';
import { openStore } from '../../stores/open.ts';
import type { EntryStore } from '../../stores/store.ts';
import { readAssets } from '../../workspace/assets.ts';
import type { Workspace } from '../../workspace/open.ts';
import { refuse } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { findMigration, type MigrationFile, readMigrations, wasRun } from '../migrationFiles.ts';
import { obeyedModel } from '../modelOfEntries.ts';
import { reading } from '../openForCall.ts';
import { head, resultVersion } from '../result.ts';
import { compareErrors, type ErrorAfter, type Errors, ErrorsAfter, errorsPass } from './errorsAfter.ts';
import { entryAfter, type Migrating, migrateStored, newEntries, prepared } from './migrateStored.ts';
import { afterAll, waiting } from './pendingMigrations.ts';
import { type Proved, prove } from './prove.ts';
import { digestPass, recordRehearsal } from './rehearsals.ts';
import { Sample, Samples } from './samples.ts';
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

export const RehearseResult = z.strictObject({
  ...head('migration rehearse'),
  /** Whether nothing stands in the way of running it, and the check would be clean. */
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
  ...ErrorsAfter,
});
export type RehearseResult = z.output<typeof RehearseResult>;

export interface RehearseCall {
  /** Whether every entry is taken there and back as well. */
  readonly prove?: boolean;
  /** That nobody is shown it before a run, so that it does not count as seen. */
  readonly isAside?: true;
}

/** Runs a migration on the real entries without writing a byte of them. */
export async function rehearse(
  call: Call,
  meant: string | undefined,
  { prove: isProved = false, isAside }: RehearseCall = {},
): Promise<RehearseResult> {
  const workspace = await reading(call);
  const file = findMigration(workspace.root, meant);

  const chain = await chainBefore(workspace, file);
  if (chain.length === 0) await refuseOtherStanding(workspace, file);
  const proved = await prove(workspace, file);
  const store = await afterAll(openStore(workspace), chain, workspace);
  const migrating = await prepared(store, proved.plan, file, call);
  const assets = await readAssets(workspace.root);
  const passes = [
    errorsPass(await CheckAhead.against(proved.plan.before, assets)),
    rehearsalPass({ ...migrating, store, ahead: await CheckAhead.against(proved.plan.after, assets) }),
    digestPass(),
  ] as const;
  const [errorsBefore, told, digest] = await walk<[Errors, Told, string]>(store, passes, call);
  const compared = compareErrors(errorsBefore, told.errors, file.migration.steps);
  const back = isProved ? await thereAndBack(store, migrating, call) : undefined;
  const { steps: ofSteps } = file.migration;
  const openQuestions = ofSteps.filter(({ open }) => open !== undefined).length;
  if (openQuestions === 0 && chain.length === 0 && !isAside)
    recordRehearsal(workspace.root, { migration: file.hash, content: digest });
  return {
    lumbrik: resultVersion,
    command: 'migration rehearse',
    ok: openQuestions === 0 && told.errors.length === 0 && (back?.wrong.length ?? 0) === 0,
    ...namesOf(file, proved),
    ahead: chain.map((one) => one.file),
    steps: ofSteps.map(({ number, kind, address, open }) =>
      compact({
        step: number,
        verb: kind.verb,
        address,
        entries: told.perStep.get(number)?.entries ?? 0,
        made: [...(told.perStep.get(number)?.made ?? [])],
        samples: [...(told.perStep.get(number)?.samples.all() ?? [])],
        open,
      }),
    ),
    openQuestions,
    entries: told.entries,
    changed: told.changed,
    made: told.made,
    files: told.files,
    lost: [...told.lost],
    errorsBefore: errorsBefore.count,
    errorsAfter: told.errors.length,
    ...(back ? { back } : {}),
    ...compared,
  };
}

/** The migrations that have to be run before one, where they lead from where the entries are to where it starts. */
async function chainBefore(workspace: Workspace, { migration }: MigrationFile): Promise<readonly MigrationFile[]> {
  const obeyed = await obeyedModel(workspace);
  const chain = waiting(readMigrations(workspace.root), obeyed.hash, workspace);
  return chain.slice(0, chain.findIndex((one) => one.migration.to === migration.from) + 1);
}

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

/* ── over the entries ────────────────────────────────────────────────────────────────────────────────────────── */

interface ToldOfStep {
  entries: number;
  readonly made: string[];
  readonly samples: Samples;
}

interface Told {
  readonly perStep: ReadonlyMap<number, ToldOfStep>;
  readonly lost: readonly z.output<typeof Lost>[];
  readonly errors: readonly ErrorAfter[];
  readonly entries: number;
  readonly changed: number;
  readonly made: number;
  readonly files: number;
}

/** What a rehearsal works with. */
interface Rehearsing extends Migrating {
  readonly store: EntryStore;
  /** Checks the entries as they would be. */
  readonly ahead: CheckAhead;
}

function rehearsalPass({ store, ahead, ...migrating }: Rehearsing): Pass<Migrated, Told> {
  const perStep = new Map<number, ToldOfStep>();
  const lost: z.output<typeof Lost>[] = [];
  const files = new Set<string>();
  /** The addresses that entries have now, of those that have others then. */
  const renamed = new Map<string, string>();
  let entries = 0;
  let changed = 0;
  let made = 0;

  return {
    map: (stored) => migrateStored(stored, migrating),
    fold: (migrated, stored) => {
      const { draft, effects } = migrated;
      entries += 1;
      const address = keyOf(stored.entry);
      for (const effect of effects) note(perStep, effect, address);
      for (const one of [draft, ...migrated.made])
        lost.push(...one.losses.map(({ path, ...loss }) => ({ entry: keyOf(one), pointer: pointer(path), ...loss })));
      if (!draft.isDeleted) ahead.see(entryAfter(stored.entry, draft), stored.place);
      if (keyOf(draft) !== address) renamed.set(keyOf(draft), address);
      const added = newEntries(migrated);
      for (const entry of added) ahead.see(entry, stored.place);
      made += added.length;
      if (draft.operations.length === 0 && added.length === 0) return undefined;
      if (draft.operations.length > 0) {
        changed += 1;
        files.add(stored.place.file);
      }
      // What is new is worked out although nothing is written: what cannot be edited is found out now.
      return store.attempt({ of: stored, operations: draft.operations, added });
    },
    finish: () => ({
      perStep,
      lost,
      errors: ahead
        .findings()
        .filter(({ severity }) => severity === 'error')
        .map((finding) => compact({ ...finding, was: renamed.get(keyOf(finding.entry)) })),
      entries,
      changed,
      made,
      files: files.size,
    }),
  };
}

function note(perStep: Map<number, ToldOfStep>, effect: StepEffect, entry: string): void {
  const { step, changes, becomes, made = [] } = effect;
  const told = perStep.get(step) ?? { entries: 0, made: [], samples: new Samples() };
  told.entries += changes.length > 0 || becomes !== undefined ? 1 : 0;
  told.made.push(...made.map(keyOf));
  told.samples.see(effect, entry);
  perStep.set(step, told);
}
