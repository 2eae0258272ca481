import { z } from 'zod';
import type { Entry } from '../../core/entry/entry.ts';
import { keyOf } from '../../core/entry/entry.ts';
import type { EntryDraft } from '../../core/migration/entryDraft.ts';
import { EntryMisfit, migrateEntry, type Plan, type StepEffect } from '../../core/migration/plan.ts';
import { pointer } from '../../core/plain/json.ts';
import { folderStore } from '../../store/folder.ts';
import type { EntryStore, Stored } from '../../store/store.ts';
import { readContentRevision } from '../../workspace/contentRevision.ts';
import type { Workspace } from '../../workspace/open.ts';
import { refuse } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { CheckAhead, checkEntries } from '../checkEntries.ts';
import { reading } from '../enter.ts';
import { findMigration, type MigrationFile, misfitTrouble, wasRun } from '../migrationFiles.ts';
import { obeyedModel } from '../obeyed.ts';
import { head, JsonValue, resultVersion } from '../result.ts';
import { type Proved, prove } from './prove.ts';
import { contentDigest, recordRehearsal } from './rehearsals.ts';

const Sample = z.strictObject({
  entry: z.string(),
  pointer: z.string(),
  before: JsonValue.optional(),
  after: JsonValue.optional(),
  movedTo: z.string().optional(),
});
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
  /** How many entries there are, and how many files would be written. */
  entries: z.int(),
  files: z.int(),
  /** Values that are gone afterwards, or that something else stands for (`becomes`). */
  lost: z.array(Lost),
  /** Findings of severity error before, by the model that the entries obey, and after, by the new one. */
  errorsBefore: z.int(),
  errorsAfter: z.int(),
  findingsAfter: z.array(
    z.strictObject({ finding: z.string(), entry: z.string(), pointer: z.string(), says: z.string() }),
  ),
});
export type RehearseResult = z.output<typeof RehearseResult>;

/** Runs a migration on the real entries without writing a byte of them. */
export async function rehearse(call: Call, meant: string | undefined): Promise<RehearseResult> {
  const workspace = await reading(call);
  const file = findMigration(workspace.root, meant);
  await refuseOtherStanding(workspace, file);
  const proved = await prove(workspace, file);
  const store = folderStore(workspace.root, call.watch);
  const before = await checkEntries(store, proved.plan.before);
  const told = await rehearseEntries(store, proved.plan, file);
  const { steps: ofSteps } = file.migration;
  const openQuestions = ofSteps.filter(({ open }) => open !== undefined).length;
  if (openQuestions === 0) recordRehearsal(workspace.root, { migration: file.hash, content: told.digest });
  return {
    lumbrik: resultVersion,
    command: 'migration rehearse',
    ok: openQuestions === 0 && told.errors.length === 0,
    ...namesOf(file, proved),
    steps: ofSteps.map(({ number, kind, address, open }) => ({
      step: number,
      verb: kind.verb,
      address,
      entries: told.perStep.get(number)?.entries ?? 0,
      samples: [...(told.perStep.get(number)?.samples ?? [])],
      ...(open === undefined ? {} : { open }),
    })),
    openQuestions,
    entries: told.entries,
    files: told.files,
    lost: [...told.lost],
    errorsBefore: before.findings.filter(({ severity }) => severity === 'error').length,
    errorsAfter: told.errors.length,
    findingsAfter: told.errors
      .slice(0, 50)
      .map(({ finding, entry, path, says }) => ({ finding, entry: keyOf(entry), pointer: pointer(path), says })),
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
  const obeyedHash = readContentRevision(workspace.root);
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

interface Told {
  readonly perStep: ReadonlyMap<number, { entries: number; samples: z.output<typeof Sample>[] }>;
  readonly lost: readonly z.output<typeof Lost>[];
  readonly errors: ReturnType<CheckAhead['findings']>;
  readonly entries: number;
  readonly files: number;
  readonly digest: string;
}

async function rehearseEntries(store: EntryStore, plan: Plan, file: MigrationFile): Promise<Told> {
  const perStep = new Map<number, { entries: number; samples: z.output<typeof Sample>[] }>();
  const lost: z.output<typeof Lost>[] = [];
  const ahead = new CheckAhead(plan.after);
  const digest = contentDigest();
  let entries = 0;
  let files = 0;
  for await (const stored of store.entries()) {
    digest.add(stored);
    if (!('entry' in stored)) continue;
    entries += 1;
    const address = keyOf(stored.entry);
    const { draft, effects } = migrateStored(stored, plan, file);
    for (const effect of effects) note(perStep, effect, address);
    lost.push(...draft.losses.map(({ path, ...loss }) => ({ entry: address, pointer: pointer(path), ...loss })));
    if (draft.operations.length > 0) files += 1;
    // The new bytes are made although nothing is written: what cannot be edited is found out now.
    stored.rewrite(draft.operations);
    if (!draft.isDeleted) ahead.see(entryAfter(stored.entry, draft), stored.file);
  }
  return {
    perStep,
    lost,
    errors: ahead.findings().filter(({ severity }) => severity === 'error'),
    entries,
    files,
    digest: digest.done(),
  };
}

/** Takes a stored entry through a plan. @throws {Trouble} where a step cannot be taken for it. */
export function migrateStored(stored: Stored, plan: Plan, file: MigrationFile): ReturnType<typeof migrateEntry> {
  try {
    return migrateEntry(plan, stored.entry);
  } catch (error) {
    if (error instanceof EntryMisfit) throw misfitTrouble(file, error.misfit);
    throw error;
  }
}

const samplesPerStep = 3;

function note(
  perStep: Map<number, { entries: number; samples: z.output<typeof Sample>[] }>,
  { step, changes }: StepEffect,
  entry: string,
): void {
  const told = perStep.get(step) ?? { entries: 0, samples: [] };
  told.entries += 1;
  const [change] = changes;
  if (change && told.samples.length < samplesPerStep)
    told.samples.push({
      entry,
      pointer: pointer(change.path),
      ...(change.before === undefined ? {} : { before: change.before }),
      ...(change.after === undefined ? {} : { after: change.after }),
      ...(change.movedTo ? { movedTo: pointer(change.movedTo) } : {}),
    });
  perStep.set(step, told);
}

/** The entry as it would be read after the run. */
function entryAfter(before: Entry, draft: EntryDraft): Entry {
  const reserved = Object.entries(before.values).filter(
    ([key]) =>
      !Object.hasOwn(draft.fields, key) && ['status', 'created', 'changed', 'publicFrom', 'publicUntil'].includes(key),
  );
  return { type: draft.type, id: draft.id, values: Object.fromEntries([...reserved, ...Object.entries(draft.fields)]) };
}
