import fs from 'node:fs';
import path from 'node:path';
import { type Entry, keyOf } from '../../core/entry/entry.ts';
import { addedTakenBack, editsKept } from '../../core/migration/editsKept.ts';
import { inverseSteps } from '../../core/migration/inverse.ts';
import { type Plan, planMigration } from '../../core/migration/plan.ts';
import type { MigrationStep } from '../../core/migration/read.ts';
import type { KnownPlaces } from '../../core/migration/step.ts';
import { count, quote } from '../../core/plain/words.ts';
import type { Look } from '../../core/rules/lookUp.ts';
import { commentsIn } from '../../core/source/comments.ts';
import { finishRun, refuseDamaged, stateOf } from '../../journal/carryOut.ts';
import { type FileChange, mendsNumber } from '../../journal/plan.ts';
import type { Run } from '../../journal/runs.ts';
import { Staging } from '../../journal/staging.ts';
import { showAll } from '../../passes/gather.ts';
import { readLookUps } from '../../passes/lookUps.ts';
import { prepareConversion } from '../../passes/prepareConversion.ts';
import { openStore } from '../../stores/open.ts';
import type { EntryStore } from '../../stores/store.ts';
import { timestamp } from '../../workspace/clock.ts';
import { hashBytes, readBytes, refuseLinksTo } from '../../workspace/files.ts';
import { openSoundWorkspace, type Workspace } from '../../workspace/open.ts';
import { ownPath } from '../../workspace/ownFolder.ts';
import { refuse, type Trouble } from '../../workspace/trouble.ts';
import { findMigration } from '../migrationFiles.ts';
import { modelObeyed } from '../modelOfEntries.ts';
import { cannotTakeBack, linesWithEdits, pairsOf } from './undoLines.ts';

/** An entry that was edited since a run, and the outcome for the edits. */
interface KeptEntry {
  readonly entry: string;
  readonly file: string;
  /** The fields that are kept as they were edited, by their older names. */
  readonly fields: readonly string[];
  readonly state: 'edited' | 'deleted' | 'new';
  /** The file that it was, of one that came since. */
  readonly was?: string;
}

/** What of an edit cannot be kept. */
interface LostEdit {
  readonly entry: string;
  readonly file: string;
  readonly why: string;
}

/** Files that a run left and somebody edited or deleted since. @throws {Trouble} where a link is in their place. */
export function editedSince(root: string, { plan }: Run): readonly FileChange[] {
  for (const { before, after } of plan.files)
    for (const side of [before, after]) if (side) refuseLinksTo(root, side.path);
  return plan.files.filter((change) => ['edited', 'deleted'].includes(stateOf(root, change)));
}

export interface Undone {
  readonly kept: readonly KeptEntry[];
  readonly lost: readonly LostEdit[];
}

/**
 * Takes back a run after which entries were edited: all that nobody touched is what it was, byte for byte; the edits
 * are undone by the inverse steps and done to the entries as they were. Entries that came since are undone too,
 * where all of them can be.
 * @param partly whether edits that cannot be kept may be lost.
 * @throws {Trouble} where some cannot and that was not said, or where nothing tells the way back.
 */
export async function undoEdited(
  root: string,
  run: Run,
  { partly, added }: { readonly partly: boolean; readonly added: readonly string[] },
): Promise<Undone> {
  refuseDamaged(root, run);
  const way = await wayBack(root, run);
  const outcomes = [
    ...run.plan.files.map((change) => outcomeOf(change, way)),
    ...added.flatMap((file) => addedOutcome(file, way)),
  ];
  const lost = outcomes.flatMap((outcome) => outcome.lost);
  if (lost.length > 0 && !partly) throw cannotKeep(lost);

  const staging = new Staging(root, run.plan.migration);
  try {
    for (const { change, target } of outcomes) {
      if (target === 'as-before' && change) staging.addKept(reversed(change), run.folder);
      else if (target && target !== 'as-before') staging.add(target);
    }

    const { migration, file, from, to } = run.plan;
    finishRun(root, staging.begin({ migration, file, from: to, to: from, date: timestamp(), undoes: run.folder }));
  } catch (error) {
    staging.discard();
    throw error;
  }

  return { kept: outcomes.flatMap((outcome) => outcome.kept), lost };
}

function cannotKeep(lost: readonly LostEdit[]): Trouble {
  return refuse('edits-would-be-lost', `${count(lost.length, 'edit', 'edits')} since the run cannot be kept`, {
    mend: 'Nothing was changed. Write them down elsewhere, then take back all the same: lumbrik migration undo --partly',
    also: lost
      .slice(0, 20)
      .map(({ entry, file, why: reason }) => `${entry === file ? file : `${entry} (${file})`}: ${reason}`),
  });
}

const reversed = ({ before, after, ...rest }: FileChange): FileChange => ({
  ...rest,
  ...(after ? { before: after } : {}),
  ...(before ? { after: before } : {}),
});

/* ── the way back ────────────────────────────────────────────────────────────────────────────────────────────── */

interface Way {
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
async function wayBack(root: string, run: Run): Promise<Way> {
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
function keptFile(root: string, run: Run, store: EntryStore, side: NonNullable<FileChange['before']>) {
  const file = store.wholeFile(side.path, keptBytes(root, run, side));
  if (file && 'value' in file) return file.value;
  return undefined;
}

const keptBytes = (root: string, run: Run, { hash }: NonNullable<FileChange['before']>): Buffer =>
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

/* ── each file ───────────────────────────────────────────────────────────────────────────────────────────────── */

interface FileOutcome extends Undone {
  /** Absent of a file that came since. */
  readonly change?: FileChange;
  /** What the file is to be; nothing where it is so already, or stays deleted. */
  readonly target?: Parameters<Staging['add']>[0] | 'as-before';
}

function outcomeOf(change: FileChange, way: Way): FileOutcome {
  const none = { change, kept: [], lost: [] };
  const state = stateOf(way.root, change);
  if (state === 'as-left') return { ...none, target: 'as-before' };
  if (state === 'as-before') return none;
  if (state === 'deleted') return deletedOutcome(change);
  return editedOutcome(change, way);
}

/** What somebody deleted stays deleted: that is an edit as well. */
function deletedOutcome(change: FileChange): FileOutcome {
  const file = change.after?.path ?? '';
  return { change, kept: [{ entry: change.entry ?? file, file, fields: [], state: 'deleted' }], lost: [] };
}

function editedOutcome(change: FileChange, { root, run, store, back, look }: Way): FileOutcome {
  const { before, after } = change;
  const file = after?.path ?? before?.path ?? '';
  const bytes = bytesNow(root, file);
  const lines =
    before && after ? linesOutcome({ change, before, after, bytes }, { root, run, store, back, look }) : undefined;
  if (lines) return lines;

  const outcome = store.wholeFile(file, bytes);
  const [oldFile, leftFile] = [before, after].map((side) => side && keptFile(root, run, store, side));
  const entry = change.entry ?? file;
  const current = { path: file, hash: hashBytes(bytes), bytes };
  // Whatever becomes of the edit, the file is again what it was before the run.
  const original = before && { path: before.path, bytes: keptBytes(root, run, before) };

  const cannotMerge = (reason: string): FileOutcome => ({
    change,
    kept: [],
    lost: [{ entry, file, why: reason }],
    target: original ? { before: current, after: original, entry } : { before: current, entry },
  });

  if (!outcome) return cannotMerge('edits in a table, or in a list or map of JSON, are not told apart from the run');
  if ('problem' in outcome) return cannotMerge('it cannot be read as an entry any more');

  const edited = outcome.value;
  if (!leftFile) return cannotMerge('the run had removed it, and it is there again');
  if (!oldFile) return cannotMerge('the run made it, and it goes');

  const { operations, fields, lost } = editsKept(
    { before: oldFile.entry, after: leftFile.entry, edited: edited.entry },
    back,
    look,
  );
  const target = oldFile.rewrite(operations);
  const keptEntry: KeptEntry = { entry: keyOf(oldFile.entry), file: target?.path ?? file, fields, state: 'edited' };
  const comments = after ? newComments(file, keptBytes(root, run, after), bytes) : [];

  return {
    change,
    // Where no value was edited, nothing of it is left in the entry as it was.
    kept: fields.length > 0 ? [keptEntry] : [],
    lost: [
      ...lost.map((loss) => ({ entry, file, why: cannotTakeBack(loss) })),
      ...comments.map((comment) => ({ entry, file, why: `the comment ${quote(comment, 60)} is not kept` })),
    ],
    target: target ? { before: current, after: target, entry } : { before: current, entry },
  };
}

/** A file as it is now. @throws {Trouble} where something else is instead of it, or it may not be read. */
function bytesNow(root: string, file: string): Buffer {
  const read = readBytes(path.join(root, file), Number.POSITIVE_INFINITY);
  if ('value' in read) return read.value;
  throw refuse('file-in-the-way', `${file} ${read.problem.says}, so that the run cannot be taken back there`, {
    mend: `${read.problem.mend} Nothing was changed.`,
    where: { file },
  });
}

/** The comments that somebody wrote into a file since a run. */
function newComments(file: string, oldBytes: Buffer, newBytes: Buffer): readonly string[] {
  if (file.endsWith('.json')) return [];
  const oldComments = new Set(commentsIn(oldBytes.toString('utf8')));
  return commentsIn(newBytes.toString('utf8')).filter((comment) => !oldComments.has(comment));
}

/** An entry that came since, as the older model has it; where something of it would be lost, it stays as it is. */
function addedOutcome(file: string, { root, store, back, look }: Way): readonly FileOutcome[] {
  const read = readBytes(path.join(root, file), Number.POSITIVE_INFINITY);
  // A link, for example: it is left as it is, and told as what came since.
  if ('problem' in read) return [];

  const bytes = read.value;
  const outcome = store.wholeFile(file, bytes);
  if (!outcome || 'problem' in outcome) return [];

  const edited = outcome.value;
  const draft = addedTakenBack(edited.entry, back, look);
  if (!draft || draft.operations.length === 0) return [];

  const target = edited.rewrite(draft.operations);
  if (!target || (target.path !== file && fs.existsSync(path.join(root, target.path)))) return [];

  const entry = keyOf(draft);
  const fields = [
    ...new Set(draft.operations.flatMap((operation) => ('path' in operation ? [String(operation.path[0])] : []))),
  ];

  return [
    {
      kept: [{ entry, file: target.path, fields, state: 'new', was: file }],
      lost: [],
      target: { before: { path: file, hash: hashBytes(bytes), bytes }, after: target, entry },
    },
  ];
}

interface EditedLines {
  readonly change: FileChange;
  readonly before: NonNullable<FileChange['before']>;
  readonly after: NonNullable<FileChange['after']>;
  readonly bytes: Buffer;
}

/** A file of lines of which some were edited; `undefined` where it is none. */
function linesOutcome(
  { change, before, after, bytes }: EditedLines,
  { root, run, store, back, look }: Way,
): FileOutcome | undefined {
  const [oldFile, leftFile] = [before, after].map((side) => store.linesOf(side.path, keptBytes(root, run, side)));
  const edited = store.linesOf(after.path, bytes);
  if (!oldFile || !leftFile || !edited) return undefined;

  const {
    lines,
    kept: remaining,
    lost,
  } = linesWithEdits({ oldLines: oldFile.lines, leftLines: leftFile.lines, editedLines: edited.lines }, back, look);
  const file = after.path;

  return {
    change,
    kept: remaining.map((edit) => ({ ...edit, file })),
    lost: lost.map((edit) => ({ ...edit, file })),
    target: {
      before: { path: file, hash: hashBytes(bytes), bytes },
      after: { path: before.path, bytes: oldFile.join(lines) },
    },
  };
}
