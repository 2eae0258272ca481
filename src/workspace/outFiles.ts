import fs from 'node:fs';
import path from 'node:path';
import { besideOf, flushFolder, statOf } from './files.ts';
import { makeFolder } from './makeFolder.ts';
import { outPath } from './outPath.ts';
import { renameOver } from './platform.ts';
import { refuse, systemTrouble } from './trouble.ts';

/** So many characters wait before they are written. */
const enough = 1 << 16;
/** So many files are open at once. */
const mostOpen = 64;

/**
 * What is written piece by piece and is there whole or not at all: a file, or a folder with files. It grows beside its
 * place and takes it at the end. What is there already stays.
 */
export class OutFiles {
  readonly #out: string;
  readonly #beside: string;
  readonly #isFolder: boolean;
  readonly #waiting = new Map<string, string>();
  readonly #known = new Set<string>();

  /**
   * @param root the folder of the workspace, in which no link is followed.
   * @throws {Trouble} where something is there: nobody asked for it to go.
   */
  constructor(root: string, outFile: string, isFolder: boolean) {
    this.#out = outPath(root, outFile);
    this.#beside = besideOf(this.#out);
    this.#isFolder = isFolder;
    const existing = statOf(this.#out);
    const isFree = !existing || (isFolder && existing.isDirectory() && fs.readdirSync(this.#out).length === 0);
    if (!isFree)
      throw refuse('other-file', 'there is something already, and what goes out takes the place of nothing', {
        mend: 'Name another place with --out, or move that one away.',
        where: { file: outFile },
      });
    this.#acting(() => {
      makeFolder(path.dirname(this.#out));
      fs.rmSync(this.#beside, { recursive: true, force: true });
      if (isFolder) fs.mkdirSync(this.#beside);
      else fs.closeSync(fs.openSync(this.#beside, 'wx', 0o666));
    });
  }

  /** How many files there are so far. */
  get count(): number {
    if (!this.#isFolder) return 1;
    return this.#known.size;
  }

  /** Whether a file was written to. @param file its path below the folder. */
  has(file: string): boolean {
    return this.#known.has(file);
  }

  /** Adds a text to a file. @param file its path below the folder, with `/`; empty where it is one file. */
  write(file: string, text: string): void {
    this.#known.add(file);
    const waiting = (this.#waiting.get(file) ?? '') + text;
    this.#waiting.set(file, waiting);
    if (waiting.length >= enough || this.#waiting.size > mostOpen) this.#flush();
  }

  /** Lets it take its place. */
  done(): void {
    this.#flush();
    this.#acting(() => {
      if (this.#isFolder && statOf(this.#out)) fs.rmdirSync(this.#out);
      renameOver(this.#beside, this.#out);
      flushFolder(path.dirname(this.#out));
    });
  }

  /** Leaves nothing of it. */
  drop(): void {
    fs.rmSync(this.#beside, { recursive: true, force: true });
  }

  #flush(): void {
    this.#acting(() => {
      for (const [file, text] of this.#waiting) {
        const target = file === '' ? this.#beside : path.join(this.#beside, file);
        if (file.includes('/')) makeFolder(path.dirname(target));
        fs.appendFileSync(target, text);
      }
    });
    this.#waiting.clear();
  }

  #acting(work: () => void): void {
    try {
      work();
    } catch (error) {
      throw systemTrouble(error, this.#out);
    }
  }
}
