import type { OutFiles } from '../workspace/outFiles.ts';

/** Takes a text, and may have to be waited for: its receiver may be slower. */
export type Print = (text: string) => Promise<void> | undefined;

/** So many characters are printed at once. */
const enough = 1 << 16;

/** Where texts go that are written into files. */
type Files = Pick<OutFiles, 'count' | 'has' | 'write' | 'done' | 'drop'>;

/** Files that are not written: which ones there would be is known, and no more. */
export class UnwrittenFiles implements Files {
  readonly #names = new Set<string>();

  get count(): number {
    return this.#names.size;
  }

  has(file: string): boolean {
    return this.#names.has(file);
  }

  write(file: string): void {
    this.#names.add(file);
  }

  done(): void {}

  drop(): void {}
}

/** Texts on their way into files, or to standard output where no file is named: whole, or not at all where files are. */
export class OutgoingText {
  readonly #files: Files | undefined;
  readonly #print: Print;
  /** Text to be printed. */
  #waiting = '';

  constructor(files: Files | undefined, print: Print) {
    this.#files = files;
    this.#print = print;
  }

  /** How many files there are so far. */
  get files(): number {
    return this.#files?.count ?? 0;
  }

  /** Whether a file was written to. */
  has(file: string): boolean {
    return this.#files?.has(file) === true;
  }

  /** @param file its path below the folder; empty where all is one file. */
  put(text: string, file = ''): void {
    if (this.#files) this.#files.write(file, text);
    else this.#waiting += text;
  }

  /** Prints what waits, once it is enough. @returns what has to be waited for, if anything. */
  flush(least = enough): Promise<void> | undefined {
    if (this.#waiting.length < least) return undefined;
    const text = this.#waiting;
    this.#waiting = '';
    if (text === '') return undefined;
    return this.#print(text);
  }

  /** Does what puts texts, up to the last; where anything stops it, no file is left. */
  async whole<T>(write: () => Promise<T>): Promise<T> {
    try {
      const written = await write();
      await this.flush(0);
      this.#files?.done();
      return written;
    } catch (error) {
      this.#files?.drop();
      throw error;
    }
  }
}
