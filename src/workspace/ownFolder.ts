import fs from 'node:fs';
import path from 'node:path';
import { anySize } from '../core/plain/limits.ts';
import type { Outcome } from '../core/plain/outcome.ts';
import { isLeftover, readBytes, refuseLinksTo, statOf, writeInside, writeWhole } from './files.ts';
import { makeFolder } from './makeFolder.ts';
import type { NotRead } from './notRead.ts';
import { renameOver } from './platform.ts';
import { refuse, systemCode, systemTrouble } from './trouble.ts';

/**
 * The tool's own folder in a workspace: the lock, the journals, the records of rehearsals. Not for version control.
 * Nothing in it is reached but by the functions of this file: none of them follows, lists, cleans or writes through a link.
 */
export const ownFolder = '.lumbrik';

/** Where what cannot be read is moved to: never removed, never used again. */
const asideFolder = `${ownFolder}/damaged`;

/** Makes the tool's own folder, with a note to version control to leave it alone. @throws {Trouble} where it is a link. */
export function makeOwnFolder(root: string): void {
  refuseOther(root, ownFolder);
  const folder = path.join(root, ownFolder);
  try {
    makeFolder(folder);
    const ignore = path.join(folder, '.gitignore');
    // Made only where nothing is, so that a link there is not written through; whole, so that a stop leaves no empty one.
    if (!statOf(ignore)) writeWhole(ignore, '*\n');
  } catch (error) {
    if (systemCode(error) !== 'EEXIST') throw systemTrouble(error, folder);
  }
}

/** The names in a folder of the tool's own, sorted; none where it is not there. @throws {Trouble} where it is no folder. */
export function ownNames(root: string, folder: string): readonly string[] {
  refuseOther(root, folder);
  try {
    return fs.readdirSync(path.join(root, folder)).sort();
  } catch (error) {
    if (systemCode(error) === 'ENOENT') return [];
    throw systemTrouble(error, path.join(root, folder));
  }
}

/** The bytes of a file of the tool's own; `undefined` where there is none. */
export function readOwn(root: string, file: string): Outcome<Buffer, NotRead> | undefined {
  refuseOther(root, path.posix.dirname(file));
  const full = path.join(root, file);
  if (!statOf(full)) return undefined;
  return readBytes(full, anySize);
}

/** The whole path of a file of the tool's own, for what is too large to be kept. @throws {Trouble} where a link is on the way. */
export function ownPath(root: string, file: string): string {
  refuseOther(root, path.posix.dirname(file));
  return path.join(root, file);
}

/** The same as text, for what is used only if it is as the tool left it: `undefined` for all that cannot be read. */
export function readOwnText(root: string, file: string): string | undefined {
  const bytes = readOwn(root, file);
  if (bytes === undefined || 'problem' in bytes) return undefined;
  return bytes.value.toString('utf8');
}

/** Writes a file of the tool's own, whole or not at all. */
export function writeOwn(root: string, file: string, content: Buffer | string): void {
  refuseOther(root, path.posix.dirname(file));
  writeInside(root, file, content);
}

/** Removes a file or a folder of the tool's own; of a link the link alone. */
export function removeOwn(root: string, place: string): void {
  refuseOther(root, path.posix.dirname(place));
  try {
    fs.rmSync(path.join(root, place), { recursive: true, force: true });
  } catch (error) {
    throw systemTrouble(error, path.join(root, place));
  }
}

/** How many bytes a file of the tool's own has, or all files in a folder of it; of a link nothing. */
export function ownSize(root: string, place: string): number {
  refuseOther(root, path.posix.dirname(place));
  const sizeOf = (full: string): number => {
    const stat = statOf(full);
    if (!stat?.isDirectory()) return stat?.isFile() ? stat.size : 0;
    return fs.readdirSync(full).reduce((sum, name) => sum + sizeOf(path.join(full, name)), 0);
  };

  return sizeOf(path.join(root, place));
}

/** Moves something of the tool's own, in one instant. */
export function moveOwn(root: string, from: string, to: string): void {
  for (const place of [from, to]) refuseOther(root, path.posix.dirname(place));
  try {
    makeFolder(path.join(root, path.posix.dirname(to)));
    renameOver(path.join(root, from), path.join(root, to));
  } catch (error) {
    throw systemTrouble(error, path.join(root, from));
  }
}

/** Moves what cannot be read out of the way, under a name that is free. @returns where it is now. */
export function setAside(root: string, place: string): string {
  const usedNames = new Set(ownNames(root, asideFolder));
  const name = path.posix.basename(place);
  let free = name;
  for (let n = 2; usedNames.has(free); n += 1) free = `${name}-${n}`;
  moveOwn(root, place, `${asideFolder}/${free}`);
  return `${asideFolder}/${free}`;
}

/** What was moved out of the way so far. */
export const asideNames = (root: string): readonly string[] =>
  ownNames(root, asideFolder).map((name) => `${asideFolder}/${name}`);

/** Removes files that a stop left on their way to their place, in some folders of the tool's own. */
export function removeOwnLeftovers(root: string, folders: readonly string[]): void {
  for (const folder of folders)
    for (const name of ownNames(root, folder)) if (isLeftover(name)) removeOwn(root, `${folder}/${name}`);
}

/** @throws {Trouble} where a link, or something else that is no folder, is where a folder of the tool's own belongs. */
function refuseOther(root: string, folder: string): void {
  refuseLinksTo(root, folder);
  const parts = folder.split('/');
  for (let length = 1; length <= parts.length; length += 1) {
    const place = parts.slice(0, length).join('/');
    const stat = statOf(path.join(root, place));
    if (stat && !stat.isDirectory())
      throw refuse('unusable-own-folder', `${place} is a file, and a folder of lumbrik's own belongs there`, {
        mend: 'Move it away, then try again. Nothing was changed.',
        where: { file: place },
      });
  }
}
