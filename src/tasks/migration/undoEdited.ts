import fs from 'node:fs';
import path from 'node:path';
import { keyOf } from '../../core/entry/entry.ts';
import { addedTakenBack, editsKept } from '../../core/migration/editsKept.ts';
import { anySize } from '../../core/plain/limits.ts';
import { count, quote } from '../../core/plain/words.ts';
import { commentsIn } from '../../core/source/comments.ts';
import { finishRun, refuseDamaged, stateOf } from '../../journal/carryOut.ts';
import type { FileChange } from '../../journal/plan.ts';
import type { Run } from '../../journal/runs.ts';
import { Staging } from '../../journal/staging.ts';
import { timestamp } from '../../workspace/clock.ts';
import { hashBytes, readBytes, refuseLinksTo } from '../../workspace/files.ts';
import { refuse, type Trouble } from '../../workspace/trouble.ts';
import { cannotTakeBack, linesWithEdits } from './undoLines.ts';
import { keptBytes, keptFile, type Way, wayBack } from './wayBack.ts';

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

/** The edits that an undo keeps, and those that it loses. */
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
  const read = readBytes(path.join(root, file), anySize);
  if ('value' in read) return read.value;
  throw refuse('file-in-the-way', `${file} ${read.problem.says}, so the run cannot be undone there`, {
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
  const read = readBytes(path.join(root, file), anySize);
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
