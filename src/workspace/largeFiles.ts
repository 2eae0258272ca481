import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { besideOf, flushFolder, refuseLinksTo } from './files.ts';
import { makeFolder } from './makeFolder.ts';
import { renameOver } from './platform.ts';
import { systemCode, systemTrouble, Trouble } from './trouble.ts';

/** As many bytes as are read at once of a file that may be too large to be kept. */
const pieceSize = 1 << 20;

/** Reads a regular file piece by piece. The piece is only good until the next one. @throws {Trouble} */
function eachPiece(file: string, take: (piece: Buffer) => void): void {
  const handle = fs.openSync(file, fs.constants.O_RDONLY | fs.constants.O_NOFOLLOW);
  try {
    const buffer = Buffer.allocUnsafe(Math.min(pieceSize, Math.max(1, fs.fstatSync(handle).size)));
    for (let read = fs.readSync(handle, buffer); read > 0; read = fs.readSync(handle, buffer))
      take(buffer.subarray(0, read));
  } finally {
    fs.closeSync(handle);
  }
}

/** The SHA-256 of a file, however large; `undefined` where it is no regular file that can be read. */
export function hashFile(file: string): string | undefined {
  try {
    if (!fs.lstatSync(file).isFile()) return undefined;
    const hash = createHash('sha256');
    eachPiece(file, (piece) => hash.update(piece));
    return hash.digest('hex');
  } catch (error) {
    if (systemCode(error) === undefined) throw error;
    return undefined;
  }
}

/** A new file that is written piece by piece; its hash is reported once it is whole. */
export class NewFile {
  readonly #handle: number;
  readonly #hash = createHash('sha256');
  readonly #file: string;
  #isOpen = true;

  /** @throws {Trouble} where it cannot be made, or something is there already. */
  constructor(file: string) {
    this.#file = file;
    try {
      makeFolder(path.dirname(file));
      this.#handle = fs.openSync(file, 'wx', 0o666);
    } catch (error) {
      throw systemTrouble(error, file);
    }
  }

  /** All of the bytes, however few of them the disk takes at once. @throws {Trouble} */
  write(bytes: Buffer): void {
    this.#orTrouble(() => fs.writeFileSync(this.#handle, bytes));
    this.#hash.update(bytes);
  }

  /**
   * @param isFlushed whether the bytes are on the disk when this returns; else anyone who wrote it sees to that.
   * @returns the SHA-256 of its bytes. @throws {Trouble} where they do not reach the disk.
   */
  done(mode?: number, isFlushed = true): string {
    this.#orTrouble(() => {
      if (mode !== undefined) fs.fchmodSync(this.#handle, mode);
      if (isFlushed) fs.fsyncSync(this.#handle);
    });
    this.#close();
    return this.#hash.digest('hex');
  }

  /** Gives up: nothing is left of it. */
  discard(): void {
    this.#close();
    fs.rmSync(this.#file, { force: true });
  }

  #close(): void {
    if (this.#isOpen) this.#orTrouble(() => fs.closeSync(this.#handle));
    this.#isOpen = false;
  }

  #orTrouble(act: () => void): void {
    try {
      act();
    } catch (error) {
      throw systemTrouble(error, this.#file);
    }
  }
}

/** Copies a file, however large, and flushes the copy. @returns the hash of the copy. @throws {Trouble} */
export const copyFile = (from: string, to: string): string => copied(from, to, undefined, true);

function copied(from: string, to: string, mode: number | undefined, isFlushed: boolean): string {
  const copy = new NewFile(to);
  try {
    eachPiece(from, (piece) => copy.write(piece));
    return copy.done(mode, isFlushed);
  } catch (error) {
    copy.discard();
    throw systemCode(error) === undefined ? error : systemTrouble(error, from);
  }
}

/** Makes the bytes of a file durable. @throws {Trouble} */
export function flushFile(file: string): void {
  try {
    const handle = fs.openSync(file, fs.constants.O_RDONLY | fs.constants.O_NOFOLLOW);
    try {
      fs.fsyncSync(handle);
    } finally {
      fs.closeSync(handle);
    }
  } catch (error) {
    throw systemTrouble(error, file);
  }
}

/** A file that stands otherwise than when a change of it was planned: another program saved or removed it meanwhile. */
export class SavedMeanwhile extends Error {
  override readonly name = 'SavedMeanwhile';
  readonly file: string;

  /** @param file the path below the root, with `/`. */
  constructor(file: string) {
    super(`${file} was saved meanwhile`);
    this.file = file;
  }
}

/**
 * Refuses where a file is not what it was when its change was planned. To be called directly before it is replaced or
 * removed: whatever is saved after that is lost.
 * @param hash the SHA-256 that it had; `undefined` where there was no file.
 * @throws {SavedMeanwhile}
 */
export function refuseSaved(root: string, file: string, hash: string | undefined): void {
  const full = path.join(root, file);
  const before = stampOf(full);
  if (hash === undefined && before === undefined) return;
  // A large file takes time to read: what was saved into its beginning while its end was read shows by its times.
  if (hash === undefined || hashFile(full) !== hash || stampOf(full) !== before) throw new SavedMeanwhile(file);
}

/** What changes when a file is written or exchanged; `undefined` where there is none. */
function stampOf(file: string): string | undefined {
  const stat = fs.lstatSync(file, { bigint: true, throwIfNoEntry: false });
  return stat && `${stat.dev} ${stat.ino} ${stat.size} ${stat.mtimeNs} ${stat.ctimeNs}`;
}

/** A file that takes the place of another one: where, as what, and where its bytes are. */
export interface Replacement {
  /** The path below the root, with `/`. */
  readonly file: string;
  readonly from: string;
  /** The SHA-256 of the file that is replaced; `undefined` where there is none. */
  readonly replaces: string | undefined;
  readonly mode?: number | undefined;
}

/**
 * Puts copies of files in the places of others, so that a stop at any instant leaves of each the old one or the new one:
 * all are written beside their places and flushed, one after the other, and only then moved there. Flushing many that
 * are written already takes hardly longer than flushing one.
 * @throws {Trouble} where a link is on the way. @throws {SavedMeanwhile} where another program saved one of them; the
 * ones before it are replaced then.
 */
export function replaceInside(root: string, replacements: readonly Replacement[]): void {
  const files = replacements.map(({ file }) => path.join(root, file));
  try {
    for (const { file, from, mode } of replacements) {
      refuseLinksTo(root, file);
      const beside = besideOf(path.join(root, file));
      fs.rmSync(beside, { force: true });
      copied(from, beside, mode, false);
    }

    for (const file of files) flushFile(besideOf(file));
    for (const { file, replaces } of replacements) {
      refuseSaved(root, file, replaces);
      renameOver(besideOf(path.join(root, file)), path.join(root, file));
    }

    for (const folder of new Set(files.map((file) => path.dirname(file)))) flushFolder(folder);
  } catch (error) {
    for (const file of files) fs.rmSync(besideOf(file), { force: true });
    if (error instanceof Trouble || error instanceof SavedMeanwhile) throw error;
    throw systemTrouble(error, files[0] ?? root);
  }
}
