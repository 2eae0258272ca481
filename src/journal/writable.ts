import fs from 'node:fs';
import path from 'node:path';
import { sayBytes } from '../core/plain/bytes.ts';
import { besideOf } from '../workspace/files.ts';
import { refuse, systemCode, systemTrouble, type Trouble } from '../workspace/trouble.ts';
import type { FileChange } from './plan.ts';

/**
 * What would stop a run in its middle is looked for before it begins: rights, names and space. What cannot be known ahead
 * (a quota, a disk that fails) is met in the middle, and the run is undone then.
 */

/** A path of so many bytes leaves room everywhere for what a file is called on its way to its place. */
const shortPath = 200;

/**
 * Why files cannot be written or removed where they stand; `undefined` where nothing speaks against it.
 * @param files paths below the root, with `/`.
 */
export function whyUnwritable(root: string, files: Iterable<string>): Trouble | undefined {
  const folders = new Set<string>();

  for (const file of files) {
    const full = path.join(root, file);
    try {
      const folder = nearestFolder(path.dirname(full));
      if (!folders.has(folder)) refuseRightless(folder);
      folders.add(folder);
      refuseLongName(full);
      refuseImmutable(full);
    } catch (error) {
      return systemTrouble(error, full);
    }
  }

  return undefined;
}

/**
 * Why there is no space for the written text; `undefined` where there is, or where the system does not say.
 * @param bytes how many more the disk has to hold.
 */
export function whyNoSpace(folder: string, bytes: number): Trouble | undefined {
  const free = freeBytes(folder);
  if (free === undefined || bytes <= free) return undefined;
  return refuse('no-space', `the disk has ${sayBytes(free)} free, and ${sayBytes(bytes)} are needed`, {
    mend: 'Free some space, then try again. Nothing was changed.',
  });
}

/**
 * Refuses what would stop changes of files in their middle.
 * @param journalText the folder of the journal, with the bytes of each file by its hash.
 * @throws {Trouble} before anything is changed.
 */
export function refuseUnwritable(root: string, changes: readonly FileChange[], journalText: string): void {
  const places = changes.flatMap(({ before, after }) => [before, after].flatMap((state) => state?.path ?? []));
  const size = (state: FileChange['before']): number => {
    if (!state) return 0;
    return sizeOf(path.join(root, journalText, state.hash));
  };
  // What takes the place of a file is written beside it first, some files together.
  const written = changes.map(({ after }) => size(after));
  const together = written.toSorted((a, b) => b - a).slice(0, writtenTogether);

  const growth = sum(written) - sum(changes.map(({ before }) => size(before)));
  const trouble = whyUnwritable(root, places) ?? whyNoSpace(root, Math.max(0, growth) + sum(together));
  if (trouble) throw trouble;
}

const sum = (numbers: readonly number[]): number => numbers.reduce((sum, number) => sum + number, 0);

/** So many files are written before any of them is moved to its place: few enough that a stop leaves little behind. */
export const writtenTogether = 64;

/** How many bytes a file has; none where there is none. */
export const sizeOf = (full: string): number => fs.statSync(full, { throwIfNoEntry: false })?.size ?? 0;

function freeBytes(folder: string): number | undefined {
  try {
    const { bavail, bsize } = fs.statfsSync(folder);
    // Some network file systems say that they have no blocks at all.
    if (bsize > 0 && bavail >= 0) return bavail * bsize;
    return undefined;
  } catch {
    return undefined;
  }
}

function nearestFolder(folder: string): string {
  let parent = folder;
  while (!fs.statSync(parent, { throwIfNoEntry: false }) && path.dirname(parent) !== parent)
    parent = path.dirname(parent);
  return parent;
}

/** A file is replaced by a new one that takes its name: what counts is the right to its folder. @throws {Trouble} */
function refuseRightless(folder: string): void {
  try {
    fs.accessSync(folder, fs.constants.W_OK | fs.constants.X_OK);
  } catch (error) {
    throw systemTrouble(error, folder);
  }
}

/** @throws {Error} of the system where a file has no room for the name that it has on its way. */
function refuseLongName(full: string): void {
  if (Buffer.byteLength(full) > shortPath) fs.lstatSync(besideOf(full), { throwIfNoEntry: false });
}

/** @throws {Error} of the system where a file may not be replaced by anybody, anyone who owns it. */
function refuseImmutable(full: string): void {
  try {
    fs.accessSync(full, fs.constants.W_OK);
  } catch (error) {
    if (systemCode(error) === 'EPERM' || systemCode(error) === 'EROFS') throw error;
  }
}
