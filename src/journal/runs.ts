import path from 'node:path';
import { statOf } from '../workspace/files.ts';
import { asideNames, ownFolder, ownNames, readOwnText, setAside, writeOwn } from '../workspace/ownFolder.ts';
import { hashOfFile } from './fileState.ts';
import { type FileChange, hashOfText, type RunPlan, type RunRead, readRunPlan } from './plan.ts';

/** The folder of journals of runs. */
export const runsFolder = `${ownFolder}/runs`;

/**
 * How far a run has come. `running` and `undoing` are states in which files are being written: found at the start of a
 * command, they tell of a stop in between.
 */
export type RunState = 'running' | 'done' | 'undoing' | 'undone';
const states: readonly RunState[] = ['running', 'done', 'undoing', 'undone'];

/** A run that was begun, as its journal tells it. */
export interface Run extends RunRead<RunPlan> {
  /** The folder of its journal, below the workspace. */
  readonly folder: string;
  readonly state: RunState;
}

/** Every run whose journal can be read, oldest first, and the folders of those whose cannot. */
export interface Runs {
  readonly sound: readonly Run[];
  readonly damaged: readonly string[];
}

/** All runs in their order, and the folders of damaged ones. */
export function readRuns(root: string): Runs {
  const read: (Omit<Run, 'state'> & { readonly stated: RunState | undefined })[] = [];
  const damaged: string[] = [];
  const names = ownNames(root, runsFolder);

  for (const name of names.toSorted((a, b) => Number.parseInt(a, 10) - Number.parseInt(b, 10) || (a < b ? -1 : 1))) {
    const folder = `${runsFolder}/${name}`;
    const run = readRun(root, folder);
    if (run) read.push(run);
    else damaged.push(folder);
  }

  const sound = read.map(({ stated, ...run }, index): Run => {
    const state = stated ?? stateWithout(root, run.plan, read[index + 1]?.plan);
    return { ...run, state };
  });

  return { sound: withoutUndone(sound), damaged };
}

/** Runs that were undone by another one are undone by that alone, and the other one is no run that stands. */
function withoutUndone(runs: readonly Run[]): readonly Run[] {
  const done = runs.filter(({ plan, state }) => plan.undoes !== undefined && state === 'done');
  const undone = new Set(done.flatMap(({ folder, plan }) => [folder, plan.undoes]));
  if (undone.size === 0) return runs;
  return runs.map((run) => (undone.has(run.folder) ? { ...run, state: 'undone' } : run));
}

/** All runs in their order. */
export const listRuns = (root: string): readonly Run[] => readRuns(root).sound;

function readRun(root: string, folder: string) {
  const text = readText(root, `${folder}/plan.json`);
  const read = text === undefined ? undefined : readRunPlan(text);
  if (!read) return undefined;
  const stateLine = readText(root, `${folder}/state`);
  return { ...read, folder, stated: states.find((state) => stateLine === stateText(state, read.checksum)) };
}

/** A journal's folder may be anything now: a file, a link, a folder with folders for files. */
function readText(root: string, file: string): string | undefined {
  try {
    return readOwnText(root, file);
  } catch {
    return undefined;
  }
}

/**
 * How far a run has come where the file that says so is damaged. A run that came after it began where this one had ended.
 * Else the entries tell: all as the run leaves them, all as they were before it, or some of each.
 */
function stateWithout(root: string, { from, to, files }: RunPlan, next: RunPlan | undefined): RunState {
  if (next) return from !== to && next.from === from ? 'undone' : 'done';
  switch (standsAt(root, files)) {
    case 'after':
      return 'done';
    case 'before':
      return 'undone';
    default:
      return 'running';
  }
}

/**
 * Where the files of a run stand by their bytes: `before` or `after` it, or neither, since some do and some do not or
 * somebody edited them.
 */
export function standsAt(root: string, files: readonly FileChange[]): 'before' | 'after' | 'neither' {
  let before = true;
  let after = true;
  for (const change of files) {
    before &&= isAs(root, change.before, change.after);
    after &&= isAs(root, change.after, change.before);
    if (!before && !after) return 'neither';
  }

  if (after) return 'after';
  return 'before';
}

/** Whether a file is as one side of a change has it, and nothing of the other side is left beside it. */
function isAs(root: string, side: FileChange['before'], other: FileChange['before']): boolean {
  if (side && hashOfFile(root, side.path) !== side.hash) return false;
  return other === undefined || other.path === side?.path || hashOfFile(root, other.path) === undefined;
}

/** What the file `state` of a journal holds: the state, tied to its plan by a checksum. */
export const stateText = (state: RunState, checksum: string): string =>
  `${state} ${hashOfText(`${state} ${checksum}`)}\n`;

/** Writes down how far a run has come. A link or a folder in its place is moved out of the way. */
export function withState(root: string, run: Run, state: RunState): Run {
  const file = `${run.folder}/state`;
  if (statOf(path.join(root, file))?.isFile() === false) setAside(root, file);
  writeOwn(root, file, stateText(state, run.checksum));
  return { ...run, state };
}

/** The files that were there when a run began, but for those that it changed; `undefined` where that is not told. */
export function seenFiles(root: string, run: Run): ReadonlySet<string> | undefined {
  const text = readOwnText(root, `${run.folder}/seen`);
  if (text === undefined) return undefined;
  try {
    return new Set(
      text
        .split('\n')
        .filter(Boolean)
        .map((line) => String(JSON.parse(line))),
    );
  } catch {
    return undefined;
  }
}

/** Moves journals out of the way that cannot be read. @returns where they are now. */
export const setDamagedAside = (root: string, damaged: readonly string[]): readonly string[] =>
  damaged.map((folder) => setAside(root, folder));

/** The names of journals that were moved out of the way. */
export const asideRuns = (root: string): readonly string[] =>
  asideNames(root).map((place) => path.posix.basename(place));
