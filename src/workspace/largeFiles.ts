import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { besideOf, flushFolder, refuseLinksTo } from './files.ts';
import { systemCode, systemTrouble, Trouble } from './trouble.ts';

/** As many bytes as are read at once of a file that may be too large to be held. */
const pieceSize = 1 << 20;

/** Reads a regular file piece by piece. The piece is only good until the next one. @throws {Trouble} */
function eachPiece(file: string, take: (piece: Buffer) => void): void {
  const handle = fs.openSync(file, fs.constants.O_RDONLY | fs.constants.O_NOFOLLOW);
  try {
    const buffer = Buffer.allocUnsafe(pieceSize);
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

/** A new file that is written piece by piece; its hash is told once it is whole and flushed to the disk. */
export class NewFile {
  readonly #handle: number;
  readonly #hash = createHash('sha256');
  readonly #file: string;
  #isOpen = true;

  /** @throws {Trouble} where it cannot be made, or something stands there already. */
  constructor(file: string) {
    this.#file = file;
    try {
      fs.mkdirSync(path.dirname(file), { recursive: true });
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

  /** @returns the SHA-256 of its bytes. @throws {Trouble} where they do not reach the disk. */
  done(mode?: number): string {
    this.#orTrouble(() => {
      if (mode !== undefined) fs.fchmodSync(this.#handle, mode);
      fs.fsyncSync(this.#handle);
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

/** Copies a file, however large. @returns the hash of what was copied. @throws {Trouble} */
export function copyFile(from: string, to: string, mode?: number): string {
  const copy = new NewFile(to);
  try {
    eachPiece(from, (piece) => copy.write(piece));
    return copy.done(mode);
  } catch (error) {
    copy.discard();
    throw systemCode(error) === undefined ? error : systemTrouble(error, from);
  }
}

/**
 * Puts a copy of a file in the place of another one, so that a stop at any instant leaves the old one or the new one.
 * @param file the path below the root, with `/`. @throws {Trouble} where a link is on the way.
 */
export function copyInside(root: string, file: string, from: string, mode?: number): void {
  refuseLinksTo(root, file);
  const full = path.join(root, file);
  const beside = besideOf(full);
  try {
    fs.rmSync(beside, { force: true });
    copyFile(from, beside, mode);
    fs.renameSync(beside, full);
    flushFolder(path.dirname(full));
  } catch (error) {
    fs.rmSync(beside, { force: true });
    throw error instanceof Trouble ? error : systemTrouble(error, full);
  }
}
