import { z } from 'zod';
import { builtInUnder } from '../../core/definition/builtIn.ts';
import type { Entry } from '../../core/entry/entry.ts';
import { keyOf } from '../../core/entry/entry.ts';
import { wordsOf } from '../../core/messages/words.ts';
import type { EntryDraft } from '../../core/migration/entryDraft.ts';
import { EntryMisfit, type Migrated, migrateEntry, type Plan, type StepEffect } from '../../core/migration/plan.ts';
import type { MigrationStep } from '../../core/migration/read.ts';
import { compact, type Path, pointer } from '../../core/plain/json.ts';
import { JsonValue } from '../../core/plain/jsonValue.ts';
import type { Look } from '../../core/rules/lookUp.ts';
import { CheckAhead } from '../../passes/check.ts';
import { showAll } from '../../passes/gather.ts';
import { readLookUps } from '../../passes/lookUps.ts';
import { type Pass, type WalkOptions, walk } from '../../passes/walk.ts';
import { openStore } from '../../stores/open.ts';
import type { EntryStore, NewEntry, Stored } from '../../stores/store.ts';
import type { Workspace } from '../../workspace/open.ts';
import { refuse } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { reading } from '../enter.ts';
import { findMigration, type MigrationFile, misfitTrouble, wasRun } from '../migrationFiles.ts';
import { obeyedModel } from '../obeyed.ts';
import { head, resultVersion } from '../result.ts';
import { type Proved, prove } from './prove.ts';
import { digestPass, recordRehearsal } from './rehearsals.ts';
import { Sample, Samples } from './samples.ts';

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
  /** How many errors would be there that are not now, how many are there now too, and how many would be gone. */
  findings: z.strictObject({ new: z.int(), left: z.int(), gone: z.int() }),
  /** The first of the errors afterwards, those that are new before the others; with the step that is about the same field. */
  findingsAfter: z.array(
    z.strictObject({
      finding: z.string(),
      entry: z.string(),
      pointer: z.string(),
      says: z.string(),
      isNew: z.boolean(),
      step: z.int().optional(),
    }),
  ),
});
export type RehearseResult = z.output<typeof RehearseResult>;

/** Runs a migration on the real entries without writing a byte of them. */
export async function rehearse(call: Call, meant: string | undefined): Promise<RehearseResult> {
  const workspace = await reading(call);
  const file = findMigration(workspace.root, meant);

  await refuseOtherStanding(workspace, file);
  const proved = await prove(workspace, file);
  const store = openStore(workspace);
  const migrating = await prepared(store, proved.plan, file, call);
  const passes = [
    errorsPass(await CheckAhead.against(proved.plan.before)),
    rehearsalPass({ ...migrating, store, ahead: await CheckAhead.against(proved.plan.after) }),
    digestPass(),
  ] as const;
  const [errorsBefore, told, digest] = await walk<[Errors, Told, string]>(store, passes, call);
  const compared = compareErrors(errorsBefore, told.errors);
  const { steps: ofSteps } = file.migration;
  const openQuestions = ofSteps.filter(({ open }) => open !== undefined).length;
  if (openQuestions === 0) recordRehearsal(workspace.root, { migration: file.hash, content: digest });
  return {
    lumbrik: resultVersion,
    command: 'migration rehearse',
    ok: openQuestions === 0 && told.errors.length === 0,
    ...namesOf(file, proved),
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
    findings: compared.counts,
    findingsAfter: compared.ordered.slice(0, 50).map(({ error: { entry, path, ...finding }, isNew }) =>
      compact({
        finding: finding.finding,
        entry: keyOf(entry),
        pointer: pointer(path),
        says: wordsOf(finding).says,
        isNew,
        step: isNew ? stepAbout(ofSteps, entry.type, path) : undefined,
      }),
    ),
  };
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

/** What is wrong with entries before: how often a finding is made of one, by its address. */
interface Errors {
  readonly count: number;
  readonly all: ReadonlyMap<string, number>;
}

type ErrorAfter = Told['errors'][number] & { readonly was?: string };

/** Tells errors that are new from those that were there, by the entry that each was and what is found. */
function compareErrors({ all }: Errors, after: readonly ErrorAfter[]) {
  const left = new Map(all);
  const told = after.map((error) => {
    const name = `${error.was ?? keyOf(error.entry)} ${error.finding}`;
    const times = left.get(name) ?? 0;
    left.set(name, times - 1);
    return { error, isNew: times <= 0 };
  });
  const isNew = told.filter((one) => one.isNew);
  const before = [...all.values()].reduce((sum, times) => sum + times, 0);
  const stayed = told.length - isNew.length;
  return {
    counts: { new: isNew.length, left: stayed, gone: before - stayed },
    ordered: [...isNew, ...told.filter((one) => !one.isNew)],
  };
}

/** The last step that is about the field in which something is found, or about the type. */
function stepAbout(steps: readonly MigrationStep[], type: string, [field]: Path): number | undefined {
  const places = (step: MigrationStep): readonly string[] =>
    [step.address, step.data.to].flatMap((one) => {
      if (typeof one !== 'string') return [];
      const [owner = '', name = ''] = one.split('.');
      return step.kind.verb === 'rename' && step.address.includes('.') && !one.includes('.')
        ? [`${type}.${one}`]
        : [name === '' ? owner : `${owner}.${name}`];
    });
  const about = (name: string) => steps.findLast((step) => places(step).includes(name))?.number;
  return about(`${type}.${String(field)}`) ?? about(type);
}

interface ToldOfStep {
  entries: number;
  readonly made: string[];
  readonly samples: Samples;
}

interface Told {
  readonly perStep: ReadonlyMap<number, ToldOfStep>;
  readonly lost: readonly z.output<typeof Lost>[];
  readonly errors: readonly (ReturnType<CheckAhead['findings']>[number] & { readonly was?: string })[];
  readonly entries: number;
  readonly changed: number;
  readonly made: number;
  readonly files: number;
}

/** What takes entries through a migration. */
export interface Migrating {
  readonly plan: Plan;
  /** Looks into other entries, where the migration does. */
  readonly look: Look | undefined;
  readonly file: MigrationFile;
}

/** What a rehearsal works with. */
interface Rehearsing extends Migrating {
  readonly store: EntryStore;
  /** Checks the entries as they would be. */
  readonly ahead: CheckAhead;
}

/** What takes the entries of a store through a plan, once it knows what it has to know of all of them. @throws {Trouble} */
export async function prepared(
  store: EntryStore,
  plan: Plan,
  file: MigrationFile,
  options: WalkOptions,
): Promise<Migrating> {
  const look = await readLookUps(store, plan.before, plan.looksUp);
  try {
    await showAll(store, plan, look, options);
  } catch (error) {
    throw asTrouble(error, file);
  }
  return { plan, look, file };
}

/** The entries that come out of another one, for a store. */
export const newEntries = ({ made }: Migrated): readonly NewEntry[] =>
  made.filter(({ isDeleted }) => !isDeleted).map(({ type, id, fields }) => ({ type, id, values: fields }));

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

/** Gathers what is wrong with entries as they are. */
function errorsPass(check: CheckAhead): Pass<Entry, Errors> {
  let unreadable = 0;
  return {
    map: ({ entry }) => entry,
    fold: (entry, { place }) => check.see(entry, place),
    unreadable: () => {
      unreadable += 1;
    },
    finish: () => {
      const errors = check.findings().filter(({ severity }) => severity === 'error');
      const all = new Map<string, number>();
      for (const { entry, finding } of errors) {
        const name = `${keyOf(entry)} ${finding}`;
        all.set(name, (all.get(name) ?? 0) + 1);
      }
      return { count: unreadable + errors.length, all };
    },
  };
}

/** Takes a stored entry through a plan. @throws {Trouble} where a step cannot be taken for it. */
export function migrateStored(stored: Stored, { plan, look, file }: Migrating): Migrated {
  try {
    return migrateEntry(plan, stored.entry, look);
  } catch (error) {
    throw asTrouble(error, file);
  }
}

/** A step that cannot be taken for an entry, as an error with its place; any other error as it is. */
const asTrouble = (error: unknown, file: MigrationFile): unknown =>
  error instanceof EntryMisfit ? misfitTrouble(file, error.misfit) : error;

function note(perStep: Map<number, ToldOfStep>, effect: StepEffect, entry: string): void {
  const { step, changes, becomes, made = [] } = effect;
  const told = perStep.get(step) ?? { entries: 0, made: [], samples: new Samples() };
  told.entries += changes.length > 0 || becomes !== undefined ? 1 : 0;
  told.made.push(...made.map(keyOf));
  told.samples.see(effect, entry);
  perStep.set(step, told);
}

/** The entry as it would be read after the run. */
function entryAfter(before: Entry, draft: EntryDraft): Entry {
  const reserved = Object.entries(before.values).filter(([key]) => {
    const name = builtInUnder(key);
    return name !== undefined && name !== 'id' && name !== 'type' && !Object.hasOwn(draft.fields, key);
  });
  return { type: draft.type, id: draft.id, values: Object.fromEntries([...reserved, ...Object.entries(draft.fields)]) };
}
