import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { count } from '../core/words.ts';
import { hashBytes, readBytes, removeFile, removeLeftover, writeInside, writeWhole } from './files.ts';
import { makeOwnFolder, ownFolder } from './lock.ts';
import { refuse, Trouble } from './trouble.ts';

const runsFolder = `${ownFolder}/runs`;

const FileState = z.strictObject({ path: z.string(), hash: z.string() });
const FileChange = z.strictObject({ before: FileState.optional(), after: FileState.optional() });
const RunPlan = z.strictObject({
  migration: z.int(),
  file: z.string(),
  from: z.string(),
  to: z.string(),
  date: z.string(),
  files: z.array(FileChange),
});

/** One file on its way from what it was to what it will be; a side is absent where there is no file. */
export type FileChange = z.output<typeof FileChange>;
/** All that a run changes, written down before it changes anything. */
export type RunPlan = z.output<typeof RunPlan>;

/**
 * How far a run has come. `running` and `undoing` are states in which files are being written: found at the start of a
 * command, they tell of a stop in between.
 */
type RunState = 'running' | 'done' | 'undoing' | 'undone';

export interface Run {
  readonly folder: string;
  readonly state: RunState;
  readonly plan: RunPlan;
}

/** A change with the bytes of both its sides. */
export interface Staged extends FileChange {
  readonly original?: Buffer;
  readonly content?: Buffer;
}

/**
 * The journal of a run while it is written: originals and new contents, each flushed to the disk as it comes, so that
 * no more than one entry is held in memory. Nothing else is touched, and until {@link beginRun} says so the journal
 * counts for nothing.
 */
export class Staging {
  readonly #root: string;
  readonly #folder: string;
  readonly #files: FileChange[] = [];

  constructor(root: string, name: string) {
    makeOwnFolder(root);
    removeUnstarted(root);
    this.#root = root;
    this.#folder = `${runsFolder}/${name}`;
  }

  add({ before, after, original, content }: Staged): void {
    if (before && original) this.#keep(before.hash, original);
    if (after && content) this.#keep(after.hash, content);
    this.#files.push({ ...(before ? { before } : {}), ...(after ? { after } : {}) });
  }

  #keep(hash: string, content: Buffer): void {
    const file = `${this.#folder}/${hash}`;
    if (!fs.existsSync(path.join(this.#root, file))) writeInside(this.#root, file, content);
  }

  /** The changes so far, without their bytes. */
  get files(): readonly FileChange[] {
    return this.#files;
  }

  /** Completes the journal. */
  done(plan: Omit<RunPlan, 'files'>): Run {
    const whole: RunPlan = { ...plan, files: this.#files };
    writeInside(this.#root, `${this.#folder}/plan.json`, `${JSON.stringify(whole)}\n`);
    return { folder: path.join(this.#root, this.#folder), state: 'running', plan: whole };
  }

  /** Takes the journal away again: what it was for did not come about. */
  discard(): void {
    fs.rmSync(path.join(this.#root, this.#folder), { recursive: true, force: true });
  }
}

/** Journals that were never begun: a stop before the first file was touched left them. */
function removeUnstarted(root: string): void {
  for (const folder of runFolders(root))
    if (readState(folder) === undefined) fs.rmSync(folder, { recursive: true, force: true });
}

/** The instant from which a run is either finished or taken back, whatever happens. */
export const beginRun = (run: Run): Run => withState(run, 'running');

/** Writes every file as the run wants it and marks the run done. May be called again after a stop. */
export function finishRun(root: string, run: Run): Run {
  refuseForeign(root, run.plan.files, run);
  for (const change of run.plan.files) carryOut(root, change, run.folder);
  return withState(run, 'done');
}

/** Puts every file back as it was, byte for byte. May be called again after a stop. */
export function takeBack(root: string, run: Run): Run {
  const backwards = run.plan.files.map(
    ({ before, after }): FileChange => ({ ...(after ? { before: after } : {}), ...(before ? { after: before } : {}) }),
  );
  refuseForeign(root, backwards, run);
  const undoing = withState(run, 'undoing');
  for (const change of backwards) carryOut(root, change, run.folder);
  return withState(undoing, 'undone');
}

function carryOut(root: string, { before, after }: FileChange, folder: string): void {
  for (const state of [before, after]) if (state) removeLeftover(path.join(root, state.path));
  if (after && hashOf(root, after.path) !== after.hash) {
    const content = fs.readFileSync(path.join(folder, after.hash));
    writeInside(root, after.path, content, before && modeOf(path.join(root, before.path)));
  }
  if (before && before.path !== after?.path) removeFile(path.join(root, before.path), path.join(root, 'content'));
}

const modeOf = (file: string): number | undefined => fs.statSync(file, { throwIfNoEntry: false })?.mode;

/** Refuses where a file is neither what it was nor what it will be: someone edited it, and that is not thrown away. */
function refuseForeign(root: string, changes: readonly FileChange[], run: Run): void {
  const foreign = changes.flatMap(({ before, after }) => {
    const states = [...(before ? [before] : []), ...(after ? [after] : [])];
    return [...new Set(states.map((state) => state.path))].filter((file) => {
      const now = hashOf(root, file);
      const expected = states.filter((state) => state.path === file).map(({ hash }) => hash);
      const mayBeAbsent = before?.path !== file || after?.path !== file;
      return now === undefined ? !mayBeAbsent : !expected.includes(now);
    });
  });
  const files = [...new Set(foreign)];
  if (files.length === 0) return;
  throw refuse(
    'edited-since',
    `${count(files.length, 'file was', 'files were')} edited since ${run.plan.file} ran: ${files.slice(0, 5).join(', ')}${files.length > 5 ? ' …' : ''}`,
    {
      mend: `Nothing was changed. The bytes from before the run are in ${path.relative(root, run.folder)}; put the edited files back as the run left them, then try again.`,
      also: files.slice(0, 20),
    },
  );
}

/** The hash of a file as it is now; `undefined` where there is none. A file that cannot be read is like no other. */
function hashOf(root: string, file: string): string | undefined {
  const full = path.join(root, file);
  if (!fs.existsSync(full)) return undefined;
  const bytes = readBytes(full);
  return 'notRead' in bytes ? 'unreadable' : hashBytes(bytes);
}

/* ── reading journals ────────────────────────────────────────────────────────────────────────────────────────── */

/** Every run that was begun, oldest first. @throws {Trouble} where a journal is damaged. */
export function listRuns(root: string): readonly Run[] {
  return runFolders(root).flatMap((folder) => {
    const state = readState(folder);
    return state === undefined ? [] : [{ folder, state, plan: readPlan(root, folder) }];
  });
}

/** The run that a stop interrupted, if there is one. */
export const interruptedRun = (root: string): Run | undefined =>
  listRuns(root).find(({ state }) => state === 'running' || state === 'undoing');

/** Refuses to go on beside a run that a stop interrupted, and says how to finish it or take it back. */
export function refuseInterrupted(root: string): void {
  const run = interruptedRun(root);
  if (!run) return;
  const isUndo = run.state === 'undoing';
  throw refuse(
    'interrupted-run',
    `${run.plan.file} was stopped while it was being ${isUndo ? 'taken back' : 'run'}: some entries are changed and some are not`,
    {
      mend: isUndo
        ? 'Go on taking it back: lumbrik migration undo'
        : `Finish it: lumbrik migration run ${run.plan.migration}. Or take it back: lumbrik migration undo`,
    },
  );
}

function runFolders(root: string): readonly string[] {
  const folder = path.join(root, runsFolder);
  if (!fs.existsSync(folder)) return [];
  return fs
    .readdirSync(folder)
    .sort()
    .map((name) => path.join(folder, name));
}

const states: readonly RunState[] = ['running', 'done', 'undoing', 'undone'];

function readState(folder: string): RunState | undefined {
  const file = path.join(folder, 'state');
  const text = fs.existsSync(file) ? fs.readFileSync(file, 'utf8').trim() : '';
  return states.find((state) => state === text);
}

function withState(run: Run, state: RunState): Run {
  writeWhole(path.join(run.folder, 'state'), `${state}\n`);
  return { ...run, state };
}

function readPlan(root: string, folder: string): RunPlan {
  const file = path.join(folder, 'plan.json');
  try {
    return RunPlan.parse(JSON.parse(fs.readFileSync(file, 'utf8')));
  } catch (error) {
    const name = path.relative(root, file);
    throw new Trouble('damaged-journal', `the journal ${name} cannot be read`, {
      mend: 'Bring the file back from a backup; without it a run cannot be taken back.',
      where: { file: name },
      cause: error,
    });
  }
}
