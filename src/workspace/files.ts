import { hash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { type Limits, usualLimits } from '../core/plain/limits.ts';
import type { Outcome } from '../core/plain/outcome.ts';
import { count } from '../core/plain/words.ts';
import { decode } from './decode.ts';
import { makeFolder } from './makeFolder.ts';
import { type NotRead, notRead } from './notRead.ts';
import { noText, removeIfThere, renameOver } from './platform.ts';
import { systemCode, systemTrouble, Trouble } from './trouble.ts';

/**
 * Reads a regular file as bytes. Links, pipes and devices are not followed, opened or waited for.
 * @param limits how large a file may be; one entry or one type is never near the usual bound.
 */
export function readBytes(
  file: string,
  { fileMegabytes: most }: Pick<Limits, 'fileMegabytes'>,
): Outcome<Buffer, NotRead> {
  return outcomeOf(() => {
    if (path.basename(file).includes(noText) && !isThere(file))
      return { problem: notRead('has a name that is not UTF-8', 'Give it another name.') };

    const stat = fs.lstatSync(file);
    const irregular = notRegular(file, stat);
    if (irregular) return { problem: irregular };
    if (stat.size > most * megabyte)
      return {
        problem: {
          ...notRead(
            `has ${count(Math.ceil(stat.size / megabyte), 'megabyte')}, more than the ${most} that are read`,
            'Split it, move it out of the workspace, or raise `limits: { fileMegabytes: … }` in lumbrik.yaml.',
          ),
          isTooLarge: true,
        },
      };
    return { value: fs.readFileSync(file) };
  });
}

/**
 * Why a file that lumbrik.yaml names cannot be opened: links on the way to it are not followed either.
 * @param file the path below the root, with `/`.
 */
export function whyNotOpened(root: string, file: string): NotRead | undefined {
  const full = path.join(root, file);
  const looked = outcomeOf((): Outcome<undefined, NotRead> => {
    const link = linkOnTheWay(root, file);
    if (link !== undefined && link !== file)
      return {
        problem: {
          ...notRead(`lies behind ${link}, a symbolic link`, 'Put the folder itself there; links are never followed.'),
          isLink: true,
        },
      };

    const stat = fs.lstatSync(full, { throwIfNoEntry: false });
    const problem = stat
      ? notRegular(full, stat)
      : notRead('is not there', 'Put it there, or take it out of `content` in lumbrik.yaml.');

    if (problem) return { problem };
    return { value: undefined };
  });

  if ('problem' in looked) return looked.problem;
  return undefined;
}

function notRegular(file: string, stat: fs.Stats): NotRead | undefined {
  if (stat.isSymbolicLink())
    return { ...notRead(linkSays(file), 'Put the file itself here; links are never followed.'), isLink: true };
  if (stat.isFile()) return undefined;
  return notRead('is no regular file', 'Remove it.');
}

function outcomeOf<T>(read: () => Outcome<T, NotRead>): Outcome<T, NotRead> {
  try {
    return read();
  } catch (error) {
    if (error instanceof Trouble) return { problem: notRead(`cannot be read: ${error.message}`, error.mend) };
    if (systemCode(error) === undefined) throw error;
    const { message, mend } = systemTrouble(error, '');
    return { problem: notRead(message.trim(), mend) };
  }
}

/** Why a file that was being read could not be read on. */
export function unreadableBecause(error: unknown): { says: string; mend: string; line: number; column: number } {
  const code = systemCode(error);
  if (code === undefined) throw error;

  const place = { line: 1, column: 1 };
  if (code.startsWith('Z_'))
    return { says: 'cannot be uncompressed', mend: 'Is it compressed with gzip, and whole?', ...place };

  const { message, mend } = systemTrouble(error, '');
  return { says: message.trim(), mend, ...place };
}

const megabyte = 1024 * 1024;

function linkSays(file: string): string {
  try {
    return `is a symbolic link to ${fs.readlinkSync(file)}`;
  } catch {
    return 'is a symbolic link';
  }
}

/** Reads a regular file as text. */
export function readText(file: string, limits: Pick<Limits, 'fileMegabytes'>): Outcome<string, NotRead> {
  const bytes = readBytes(file, limits);
  if ('problem' in bytes) return bytes;
  return decode(bytes.value);
}

/** Reads a file that need not be there; `undefined` where it is not. @throws {Trouble} where it cannot be read. */
export function readTextIfThere(file: string, name: string, limits = usualLimits): string | undefined {
  if (!isThere(file)) return undefined;
  return readTextOrRefuse(file, name, limits);
}

/** Whether anything is at a path: a file, a folder, or a link wherever it leads. */
const isThere = (file: string): boolean => statOf(file) !== undefined;

/** What is at a path, a link as itself; `undefined` where nothing does, or where nothing could be. */
export function statOf(file: string): fs.Stats | undefined {
  try {
    return fs.lstatSync(file, { throwIfNoEntry: false });
  } catch (error) {
    if (['ENOTDIR', 'ELOOP'].includes(systemCode(error) ?? '')) return undefined;
    throw systemTrouble(error, file);
  }
}

/** Reads a file as text. @param name its name in messages. @throws {Trouble} where it cannot be read. */
export function readTextOrRefuse(file: string, name: string, limits: Pick<Limits, 'fileMegabytes'>): string {
  const text = readText(file, limits);
  if ('value' in text) return text.value;
  const { says: message, mend, line, column } = text.problem;
  throw new Trouble('unreadable-file', `${name} ${message}`, { mend, where: { file: name, line, column } });
}

/**
 * The files below a folder of a workspace whose names end in one of some ways, as sorted paths below that folder, with
 * `/`. Names that start with a dot are passed over. Links are listed, never followed, so that reading them can say what
 * is wrong; where the folder itself is one, or lies behind one,
 * nothing is read.
 */
export function listFiles(root: string, name: string, endings: readonly string[]): readonly string[] {
  refuseLinksTo(root, name);
  const folder = path.join(root, name);
  const files: string[] = [];

  const walk = (inside: string): void => {
    for (const entry of readFolder(path.join(folder, inside))) {
      if (entry.name.startsWith('.')) continue;
      const path = inside === '' ? entry.name : `${inside}/${entry.name}`;
      // Below a name that is no UTF-8 nothing can be read: it is listed, so that this is stated.
      if (entry.isDirectory() && !path.includes(noText)) walk(path);
      else if (entry.isSymbolicLink() || entry.isDirectory() || endings.some((ending) => entry.name.endsWith(ending)))
        files.push(path);
    }
  };

  walk('');

  return files.sort();
}

function readFolder(folder: string): readonly fs.Dirent[] {
  try {
    return fs.readdirSync(folder, { withFileTypes: true });
  } catch (error) {
    if (systemCode(error) === 'ENOENT') return [];
    throw systemTrouble(error, folder);
  }
}

/** The SHA-256 of some bytes, or of a text in UTF-8, in hexadecimal. */
export const hashBytes = (bytes: Buffer | string): string => hash('sha256', bytes, 'hex');

interface Writing {
  /** The permissions that the file gets, as in `0o644`; else those of any new file. */
  readonly mode?: number | undefined;
  /** Called directly before the file takes its place; what it throws leaves the old one. */
  readonly beforeReplacing?: () => void;
}

/**
 * Writes a file so that a stop at any instant leaves the old one or the new one: beside its place, flushed to the disk,
 * then renamed. Folders are made as needed.
 */
export function writeWhole(file: string, content: Buffer | string, { mode, beforeReplacing }: Writing = {}): void {
  const folder = path.dirname(file);
  const beside = besideOf(file);
  try {
    makeFolder(folder);
    // What a stop left there, or a link that somebody laid, is taken away and never written through.
    fs.rmSync(beside, { force: true });
    const handle = fs.openSync(beside, 'wx', 0o666);
    try {
      fs.writeFileSync(handle, content);
      if (mode !== undefined) fs.fchmodSync(handle, mode);
      fs.fsyncSync(handle);
    } finally {
      fs.closeSync(handle);
    }

    beforeReplacing?.();
    renameOver(beside, file);
    flushFolder(folder);
  } catch (error) {
    fs.rmSync(beside, { force: true });
    throw systemCode(error) === undefined ? error : systemTrouble(error, file);
  }
}

/**
 * Writes a file of a workspace by {@link writeWhole}, and refuses to be led out of it by a link.
 * @param file the path below the root, with `/`.
 */
export function writeInside(root: string, file: string, content: Buffer | string, writing: Writing = {}): void {
  refuseLinksTo(root, file);
  writeWhole(path.join(root, file), content, writing);
}

/** @throws {Trouble} where any folder on the way to a file, or the file itself, is a link. */
export function refuseLinksTo(root: string, file: string): void {
  const link = linkOnTheWay(root, file);
  if (link === undefined) return;
  throw new Trouble('symbolic-link', `${link} is a symbolic link, and links are never followed`, {
    mend: 'Put the folder or the file itself here.',
    where: { file: link },
  });
}

/** The first part of the way to a file that is a link, the file itself being the last. @throws {Trouble} */
function linkOnTheWay(root: string, file: string): string | undefined {
  const parts = file.split('/');
  return parts.map((_, index) => parts.slice(0, index + 1).join('/')).find((name) => isLinkAt(root, name));
}

const isLinkAt = (root: string, name: string): boolean => statOf(path.join(root, name))?.isSymbolicLink() === true;

const besideEnding = '.lumbrik-new';

/** Where a file is written before it takes its place. Left behind by a stop, it is overwritten or removed next time. */
export const besideOf = (file: string): string =>
  path.join(path.dirname(file), `.${path.basename(file)}${besideEnding}`);

/** Whether a name is the one of a file on its way to its place. */
export const isLeftover = (name: string): boolean => name.startsWith('.') && name.endsWith(besideEnding);

/** Removes what a stop may have left of writing a file. */
export const removeLeftover = (file: string): void => fs.rmSync(besideOf(file), { force: true });

/** Removes a file and the folders that are empty then, up to a folder that stays. */
export function removeFile(file: string, keep: string): void {
  try {
    removeIfThere(file);
    for (let folder = path.dirname(file); folder !== keep && folder.startsWith(keep); folder = path.dirname(folder)) {
      if (fs.lstatSync(folder).isSymbolicLink() || fs.readdirSync(folder).length > 0) break;
      fs.rmdirSync(folder);
    }
  } catch (error) {
    if (systemCode(error) !== 'ENOENT') throw systemTrouble(error, file);
  }
}

/** Makes the names in a folder durable. Some file systems cannot, and lose nothing by it. */
export function flushFolder(folder: string): void {
  try {
    const handle = fs.openSync(folder, 'r');
    try {
      fs.fsyncSync(handle);
    } finally {
      fs.closeSync(handle);
    }
  } catch {
    // Not every file system lets a folder be flushed.
  }
}
