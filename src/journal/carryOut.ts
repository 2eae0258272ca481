import path from 'node:path';
import { compact } from '../core/plain/json.ts';
import { count, listSome } from '../core/plain/words.ts';
import { refuseLinksTo, removeFile, removeLeftover, statOf } from '../workspace/files.ts';
import { hashFile, refuseSaved, replaceInside, SavedMeanwhile } from '../workspace/largeFiles.ts';
import { ownPath } from '../workspace/ownFolder.ts';
import { refuse } from '../workspace/trouble.ts';
import { hashOfFile } from './fileState.ts';
import type { FileChange } from './plan.ts';
import { type Run, type RunState, withState } from './runs.ts';
import { refuseUnwritable, writtenTogether } from './writable.ts';

/** A file that cannot be brought back, since the journal no longer holds the bytes that it had. */
export interface LostFile {
  readonly file: string;
  readonly entry?: string;
  readonly why: string;
}

/**
 * Writes every file as the run wants it and marks the run done. May be called again after a stop.
 * @throws {Trouble} where another program saves one of the files meanwhile: all others are as before then.
 */
export function finishRun(root: string, run: Run): Run {
  const { files } = run.plan;
  refuseForeign(root, files, run, run.plan.file);
  const lost = missingBytes(root, files, run);
  if (lost.length > 0) throw damaged(lost, run, `Take it back instead: lumbrik migration undo`);
  carryOutOrBack(root, run, { changes: files, state: 'undone', otherFiles: 'Nothing else was changed.' });
  return withState(root, run, 'done');
}

/** Finishes a run that was stopped. @throws {Trouble} where something would stop it again, before it goes on. */
export function resumeRun(root: string, run: Run): Run {
  refuseUnwritable(root, run.plan.files, run.folder);
  return finishRun(root, run);
}

/** Refuses where the journal does not hold what every file was. @throws {Trouble} */
export function refuseDamaged(root: string, run: Run): void {
  const lost = missingBytes(root, run.plan.files.map(reversed), run);
  if (lost.length > 0) throw damaged(lost, run, 'Take back all the others: lumbrik migration undo --partly');
}

/** How a file stands that a run left: as it left it, as it was before, or as somebody made it since. */
export function stateOf(root: string, { before, after }: FileChange): 'as-left' | 'as-before' | 'edited' | 'deleted' {
  const currentHash = (side: FileChange['before']): string | undefined => side && hashOfFile(root, side.path);
  const isElsewhere = after !== undefined && after.path !== before?.path;
  if (currentHash(before) === before?.hash && (!isElsewhere || currentHash(after) === undefined)) return 'as-before';
  if (!after) return currentHash(before) === undefined ? 'as-left' : 'edited';
  if (currentHash(after) === after.hash) return 'as-left';
  if (currentHash(after) === undefined) return 'deleted';
  return 'edited';
}

/**
 * Puts every file back as it was, byte for byte. May be called again after a stop.
 * @param partly whether files whose bytes are damaged or gone may stay as the run left them.
 * @returns those files.
 * @throws {Trouble} where another program saves one of the files meanwhile: all others are as the run left them then.
 */
export function takeBack(root: string, run: Run, partly: boolean): readonly LostFile[] {
  const backwards = run.plan.files.map(reversed);
  refuseForeign(root, backwards, run, run.plan.file);
  const lost = missingBytes(root, backwards, run);
  if (lost.length > 0 && !partly) throw damaged(lost, run, 'Take back all the others: lumbrik migration undo --partly');

  const stays = new Set(lost.map(({ file }) => file));
  const changes = backwards.filter(({ after }) => !stays.has(after?.path ?? ''));
  refuseUnwritable(root, changes, run.folder);
  withState(root, run, 'undoing');
  carryOutOrBack(root, run, { changes, state: 'done', otherFiles: 'All other files are as the run left them.' });
  withState(root, run, 'undone');

  return lost;
}

interface RunProgress {
  readonly changes: readonly FileChange[];
  /** The state of the run where its changes are undone. */
  readonly state: RunState;
  /** A sentence on the files that nobody saved. */
  readonly otherFiles: string;
}

/** Carries out changes, or takes back the ones begun. @throws {Trouble} where one of the files cannot be changed. */
function carryOutOrBack(root: string, run: Run, { changes, state, otherFiles }: RunProgress): void {
  try {
    carryOut(root, changes, run.folder);
  } catch (error) {
    const keptFiles = [
      ...(error instanceof SavedMeanwhile ? [error.file] : []),
      ...carryBackAfter(error, root, changes, run),
    ];
    withState(root, run, state);
    throw error instanceof SavedMeanwhile ? savedMeanwhile(keptFiles, run, otherFiles) : error;
  }
}

/** Takes back unfinished work before an error. @throws {Error} that error, where it cannot be undone either. */
function carryBackAfter(
  error: unknown,
  root: string,
  changes: readonly FileChange[],
  { folder }: Run,
): readonly string[] {
  try {
    return carryBack(root, changes, folder);
  } catch {
    throw error;
  }
}

/**
 * Takes back changes that were begun: each changed file gets its old content.
 * @returns the files that another program saved meanwhile; they stay as they are.
 */
function carryBack(root: string, changes: readonly FileChange[], folder: string): readonly string[] {
  const keptFiles: string[] = [];
  for (const change of changes)
    try {
      if (stateOf(root, change) === 'as-left') carryOut(root, [reversed(change)], folder);
    } catch (error) {
      if (!(error instanceof SavedMeanwhile)) throw error;
      keptFiles.push(error.file);
    }

  return keptFiles;
}

function savedMeanwhile(keptFiles: readonly string[], { plan }: Run, otherFiles: string) {
  const [first = ''] = keptFiles;
  return refuse(
    'saved-meanwhile',
    `another program saved ${keptFiles.length === 1 ? first : count(keptFiles.length, 'file')} while ${plan.file} was being ${plan.undoes === undefined ? 'carried out' : 'taken back'}`,
    {
      mend: `What was saved is kept. ${otherFiles} Close the file in that program, then start again from the rehearsal or the check.`,
      where: { file: first },
      also: keptFiles.slice(1),
    },
  );
}

const reversed = ({ before, after, ...rest }: FileChange): FileChange => ({
  ...rest,
  ...(after ? { before: after } : {}),
  ...(before ? { after: before } : {}),
});

/** Files that are to be written and whose bytes the journal does not hold as they were. */
function missingBytes(root: string, changes: readonly FileChange[], run: Run): readonly LostFile[] {
  return changes.flatMap(({ after, entry }): readonly LostFile[] => {
    if (!after || hashOfFile(root, after.path) === after.hash) return [];
    const reason = whyUnusable(root, run, after.hash);
    if (reason === undefined) return [];
    return [compact({ file: after.path, entry, why: reason })];
  });
}

function whyUnusable(root: string, run: Run, hash: string): string | undefined {
  const storedFile = ownPath(root, `${run.folder}/${hash}`);
  if (!statOf(storedFile)) return 'is gone from the journal';
  const currentHash = hashFile(storedFile);
  if (currentHash === undefined) return 'cannot be read in the journal: it is no regular file, or may not be read';
  if (currentHash === hash) return undefined;
  return 'is damaged in the journal';
}

const damaged = (lost: readonly LostFile[], run: Run, mend: string) =>
  refuse(
    'damaged-originals',
    `${count(lost.length, 'file')} of ${run.plan.file} cannot be written: ${lost.length === 1 ? 'what it should hold' : 'what they should hold'} is not in the journal any more`,
    {
      mend: `Nothing was changed. Bring the journal ${run.folder} back from a backup. Or: ${mend.charAt(0).toLowerCase()}${mend.slice(1)}`,
      also: lost
        .slice(0, 20)
        .map(({ file, entry, why: reason }) => `${entry === undefined ? file : `${entry} (${file})`} ${reason}`),
    },
  );

/**
 * Carries out changes, some together: each file is the old one or the new one at any instant.
 * @throws {SavedMeanwhile} where a file is neither, directly before it would be replaced or removed.
 */
function carryOut(root: string, changes: readonly FileChange[], folder: string): void {
  for (let start = 0; start < changes.length; start += writtenTogether) {
    const group = changes.slice(start, start + writtenTogether);
    for (const { before, after } of group)
      for (const state of [before, after]) if (state) removeLeftover(path.join(root, state.path));
    replaceInside(
      root,
      group.flatMap(({ before, after }) =>
        after && hashOfFile(root, after.path) !== after.hash
          ? [
              {
                file: after.path,
                from: ownPath(root, `${folder}/${after.hash}`),
                mode: after.mode,
                replaces: hashAt(before, after.path),
              },
            ]
          : [],
      ),
    );
    for (const { before, after } of group) removeLeft(root, before, after);
  }
}

/** Removes the file that a change leaves, if it is still there. */
function removeLeft(root: string, before: FileChange['before'], after: FileChange['after']): void {
  if (!before || before.path === after?.path || !statOf(path.join(root, before.path))) return;
  refuseSaved(root, before.path, before.hash);
  removeFile(path.join(root, before.path), path.join(root, 'content'));
}

/** Refuses a file that is in neither its old nor its new state: someone edited it, and that is not thrown away. */
function refuseForeign(root: string, changes: readonly FileChange[], run: Run, name: string): void {
  const edited = new Set<string>();
  const deleted = new Set<string>();

  for (const { before, after } of changes) {
    for (const state of [before, after]) if (state) refuseLinksTo(root, state.path);
    for (const file of new Set([before, after].flatMap((state) => (state ? [state.path] : [])))) {
      const currentHash = hashOfFile(root, file);
      const isBoth = before?.path === file && after?.path === file;
      if (currentHash === undefined && isBoth) deleted.add(file);
      else if (currentHash !== undefined && currentHash !== hashAt(before, file) && currentHash !== hashAt(after, file))
        edited.add(file);
    }
  }

  const moved = changes.filter(
    ({ before, after }) =>
      before && after && before.path !== after.path && [before, after].every((state) => !hashOfFile(root, state.path)),
  );
  for (const { before } of moved) deleted.add(before?.path ?? '');
  if (edited.size + deleted.size === 0) return;

  const reasons = [
    ...(edited.size > 0 ? [`${count(edited.size, 'file was', 'files were')} edited`] : []),
    ...(deleted.size > 0 ? [`${count(deleted.size, 'file was', 'files were')} deleted`] : []),
  ];
  const files = [...edited, ...deleted];
  throw refuse('edited-since', `${reasons.join(' and ')} since ${name} ran: ${listSome(files, 5)}`, {
    mend: `Nothing was changed. The bytes from before the run are in ${run.folder}; put the files back as the run left them, then try again.`,
    also: [
      ...[...edited].slice(0, 20).map((file) => `${file} was edited`),
      ...[...deleted].slice(0, 20).map((file) => `${file} was deleted`),
    ],
  });
}

const hashAt = (state: FileChange['before'], file: string): string | undefined => {
  if (state?.path !== file) return undefined;
  return state.hash;
};
