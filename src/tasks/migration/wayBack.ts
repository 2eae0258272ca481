import fs from 'node:fs';
import type { Entry } from '../../core/entry/entry.ts';
import { inverseSteps } from '../../core/migration/inverse.ts';
import { type Plan, planMigration } from '../../core/migration/plan.ts';
import type { MigrationStep } from '../../core/migration/read.ts';
import type { KnownPlaces } from '../../core/migration/step.ts';
import type { Look } from '../../core/rules/lookUp.ts';
import { type FileChange, mendsNumber } from '../../journal/plan.ts';
import type { Run } from '../../journal/runs.ts';
import { showAll } from '../../passes/gather.ts';
import { readLookUps } from '../../passes/lookUps.ts';
import { prepareConversion } from '../../passes/prepareConversion.ts';
import { openStore } from '../../stores/open.ts';
import type { EntryStore } from '../../stores/store.ts';
import { openSoundWorkspace, type Workspace } from '../../workspace/open.ts';
import { ownPath } from '../../workspace/ownFolder.ts';
import { refuse } from '../../workspace/trouble.ts';
import { findMigration } from '../migrationFiles.ts';
import { modelObeyed } from '../modelOfEntries.ts';
import { pairsOf } from './undoLines.ts';

/* ── the way back ────────────────────────────────────────────────────────────────────────────────────────────── */
/** The way back of a run: its journal, store and inverse plan. */
export interface Way {
  readonly root: string;
  readonly run: Run;
  readonly store: EntryStore;
  readonly back: Plan;
  readonly look: Look | undefined;
}

/** Mends change no model: what was edited since is done to the entries as they were. */
function wayBackFromMends(root: string, run: Run, workspace: Workspace): Way {
  const { definition } = workspace.model;
  const planned = planMigration([], definition);
  if ('problem' in planned) throw new Error(`no step does not fit: ${planned.problem.says}`);
  return { root, run, store: openStore(workspace), back: planned.value, look: undefined };
}

/** @throws {Trouble} where the migration, or a model that it leads from or to, is not there any more. */
export async function wayBack(root: string, run: Run): Promise<Way> {
  const workspace = openSoundWorkspace(root);
  if (run.plan.migration === mendsNumber) return wayBackFromMends(root, run, workspace);

  const { migration } = findMigration(root, run.plan.file);
  const [from, to] = [modelObeyed(run.plan.from, workspace), modelObeyed(run.plan.to, workspace)];
  const isSame = migration.from === run.plan.from && migration.to === run.plan.to;
  if (!from || !to || !isSame)
    throw refuse('no-way-back', `${run.plan.file} does not say any more how its run is taken back beside later edits`, {
      mend: `Bring it and the files in revisions/ back as they were. Or put the edited files back as the run left them, then try again.`,
      where: { file: run.plan.file },
    });

  await prepareConversion(to.definition, from.definition);
  const store = openStore(workspace);
  const steps = inverseSteps(
    migration.steps,
    from.definition,
    sentBy(run, migration.steps, { root, store, workspace }),
  );
  const planned = planMigration(steps, to.definition, from.definition);
  if ('problem' in planned) throw new Error(`the inverse of ${run.plan.file} does not fit: ${planned.problem.says}`);

  const back = planned.value;
  const look = await readLookUps(store, back.before, back.looksUp);
  await showAll(store, back, look);

  return { root, run, store, back, look };
}

interface Reading {
  readonly root: string;
  readonly store: EntryStore;
  readonly workspace: Workspace;
}

/** The entries that a run sent into other types, as its journal tells. */
function sentBy(run: Run, steps: readonly MigrationStep[], { root, store }: Reading): KnownPlaces {
  const isAsked = steps.some(({ kind }) => kind.verb === 'send');
  const moved = (isAsked ? run.plan.files : []).flatMap(({ before, after }) => {
    const [oldEntries, newEntries] = [before, after].map((side) => (side ? keptEntries(root, run, store, side) : []));
    return pairsOf(oldEntries ?? [], newEntries ?? []).flatMap(([entry, other]) =>
      other && entry.type !== other.type ? [{ from: entry.type, to: other.type, id: other.id }] : [],
    );
  });
  const ofTypes = steps.filter(({ address }) => !/[.:]/u.test(address));

  const called = (type: string, isAfter: boolean): ReadonlySet<string> =>
    new Set([
      type,
      ...ofTypes.flatMap(({ address, kind, data }) => linked(type, address, kind.leadsTo?.(data), isAfter)),
    ]);

  return {
    sent: (from, to) => {
      const [before, after] = [called(from, false), called(to, true)];
      return moved.filter((move) => before.has(move.from) && after.has(move.to)).map(({ id }) => id);
    },
  };
}

/** What a type is called beside a rename: before it, or after it. */
function linked(type: string, old: string, current: string | undefined, isAfter: boolean): readonly string[] {
  if (current === undefined) return [];
  if (isAfter) return type === old ? [current] : [];
  if (type !== current) return [];
  return [old];
}

/** A file as the journal of a run keeps it, where it holds one entry. */
export function keptFile(root: string, run: Run, store: EntryStore, side: NonNullable<FileChange['before']>) {
  const file = store.wholeFile(side.path, keptBytes(root, run, side));
  if (file && 'value' in file) return file.value;
  return undefined;
}

/** The bytes of a file, from the journal of a run. */
export const keptBytes = (root: string, run: Run, { hash }: NonNullable<FileChange['before']>): Buffer =>
  fs.readFileSync(ownPath(root, `${run.folder}/${hash}`));

/** The entries of a file as the journal of a run keeps it. */
function keptEntries(
  root: string,
  run: Run,
  store: EntryStore,
  side: NonNullable<FileChange['before']>,
): readonly Entry[] {
  const file = keptFile(root, run, store, side);
  if (file) return [file.entry];
  const lines = store.linesOf(side.path, keptBytes(root, run, side))?.lines ?? [];
  return lines.flatMap(({ entry }) => entry ?? []);
}
