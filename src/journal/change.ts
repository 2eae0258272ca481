import path from 'node:path';
import { z } from 'zod';
import { compact } from '../core/plain/json.ts';
import { count } from '../core/plain/words.ts';
import { hashBytes, refuseLinksTo, removeFile, removeLeftover, writeInside } from '../workspace/files.ts';
import { refuseSaved, SavedMeanwhile } from '../workspace/largeFiles.ts';
import { ownFolder, readOwn, removeOwn, setAside, writeOwn } from '../workspace/ownFolder.ts';
import { refuse, type Trouble } from '../workspace/trouble.ts';
import { hashOfFile } from './fileState.ts';
import { planText, readPlanText } from './plan.ts';
import { whyNoSpace, whyUnwritable } from './writable.ts';

/**
 * The small journal: what a command other than a run writes into a workspace. All of it is in one file, which
 * appears in one instant; from then on the change has happened, and the next command carries it out if this one could
 * not. There is no way back, since nothing that was is lost: these commands add, and edit what version control keeps.
 */
const journalFile = `${ownFolder}/change.json`;

/** Everything that a command may write. */
const places = [
  'content/',
  'migrations/',
  'model/',
  'revisions/',
  'schemas/',
  'lumbrik.yaml',
  'baseline.ndjson',
] as const;

const State = z.strictObject({ path: z.string(), hash: z.string(), text: z.string().optional() });
const Plan = z.strictObject({
  files: z.array(z.strictObject({ before: State.optional(), after: State.optional() })),
});
type Plan = z.output<typeof Plan>;

/** A file as a command wants it; without a text it is removed. */
export interface WantedChange {
  readonly file: string;
  readonly text?: string;
  /**
   * The SHA-256 of the text that the new one was made of, or `null` where there was no file: where another program saved
   * the file since, nothing is written.
   */
  readonly from?: string | null;
}

/**
 * Writes, replaces and removes files: all of them or none. The caller holds the lock.
 * @throws {Trouble} where another program saved one of them since it was read.
 */
export function changeFiles(root: string, wantedChanges: readonly WantedChange[]): void {
  for (const { file } of wantedChanges) refuseLinksTo(root, file);
  const files = wantedChanges.map(({ file, text, from }) => {
    const hash = hashOfFile(root, file);
    if (from !== undefined && hash !== (from ?? undefined)) throw savedMeanwhile(file, 'Nothing was written.');
    return compact({
      before: hash === undefined ? undefined : { path: file, hash },
      after: text === undefined ? undefined : { path: file, hash: hashBytes(text), text },
    });
  });
  const changes = files.filter(({ before, after }) => before !== undefined || after !== undefined);
  if (changes.length === 0) return;

  const journal = planText({ files: changes }).text;
  const places = changes.flatMap(({ before, after }) => after?.path ?? before?.path ?? []);
  const trouble = whyUnwritable(root, places) ?? whyNoSpace(root, 2 * Buffer.byteLength(journal));
  if (trouble) throw trouble;

  writeOwn(root, journalFile, journal);
  carryOut(root, { files: changes });
}

function carryOut(root: string, { files }: Plan): void {
  for (const { before, after } of files) {
    const file = after?.path ?? before?.path ?? '';
    removeLeftover(path.join(root, file));
    if (hashOfFile(root, file) === after?.hash) continue;
    try {
      if (after?.text === undefined) removeSaved(root, file, before?.hash);
      else
        writeInside(root, file, after.text, {
          beforeReplacing: () => refuseSaved(root, file, before?.hash),
        });
    } catch (error) {
      if (!(error instanceof SavedMeanwhile)) throw error;
      setAside(root, journalFile);
      throw savedMeanwhile(file, 'Some of the other files may be written already.');
    }
  }

  removeOwn(root, journalFile);
}

/** Removes a file if it is unchanged since its removal was planned. @throws {SavedMeanwhile} */
function removeSaved(root: string, file: string, hash: string | undefined): void {
  refuseSaved(root, file, hash);
  removeFile(path.join(root, file), root);
}

/** @param otherFiles a sentence about the other files of the command. */
export const savedMeanwhile = (file: string, otherFiles: string): Trouble =>
  refuse('saved-meanwhile', `another program saved ${file} while this command was changing it`, {
    mend: `What was saved is kept. ${otherFiles} Run the command again.`,
    where: { file },
  });

/** Takes the journal of a stopped command away, where nothing of it was carried out. The caller holds the lock. */
export const forgetChange = (root: string): void => removeOwn(root, journalFile);

/** Whether a command was stopped while it changed files. */
export const isChangePending = (root: string): boolean => readOwn(root, journalFile) !== undefined;

/**
 * Carries out what a command that was stopped had begun. The caller holds the lock.
 * @throws {Trouble} where that cannot be done; the journal is moved out of the way then, and the next command goes on.
 */
export function finishChange(root: string): void {
  const bytes = readOwn(root, journalFile);
  if (bytes === undefined) return;

  const read = 'problem' in bytes ? undefined : readPlanText(bytes.value.toString('utf8'), Plan, places);
  if (!read) throw aside(root, 'cannot be read');
  if (!read.isOurs) throw aside(root, 'was not made here: it came along with this folder');

  const edited = read.plan.files.filter(({ before, after }) => {
    const currentHash = hashOfFile(root, after?.path ?? before?.path ?? '');
    return currentHash !== before?.hash && currentHash !== after?.hash;
  });
  const [first] = edited;
  if (first)
    throw aside(
      root,
      `cannot be gone on with, since ${count(edited.length, 'file was', 'files were')} edited meanwhile: ${first.after?.path ?? first.before?.path}`,
    );
  carryOut(root, read.plan);
}

function aside(root: string, reason: string) {
  const place = setAside(root, journalFile);
  return refuse('unfinished-change', `a command was stopped here while it wrote, and its journal ${reason}`, {
    mend: `The journal is now ${place}, and nothing else was changed. Look at the files in model/ and content/, then try again.`,
    where: { file: place },
  });
}
