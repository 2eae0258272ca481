import fs from 'node:fs';
import { deserialize, serialize } from 'node:v8';
import { inMemory, type Numbers, type Overflow } from '../core/check/overflow.ts';
import { makeOwnFolder, ownFolder, ownPath } from './ownFolder.ts';

/** So many bytes stay in memory; what comes after them goes to the disk. LUMBRIK_MEMORY says another number of MB. */
const bound = (): number => {
  const setting = Number(process.env.LUMBRIK_MEMORY);
  return (process.env.LUMBRIK_MEMORY && Number.isFinite(setting) && setting >= 0 ? setting : 16) * 1024 * 1024;
};

/**
 * Room for the facts of very many entries in a file of the tool's own, which has no name as soon as it is open: nothing is
 * left of it, however the process ends. Where nothing can be written, all stays in memory.
 */
export class DiskOverflow implements Overflow {
  readonly #root: string;
  readonly #bound = bound();
  #kept = 0;
  #file: number | undefined;
  #size = 0;
  #isRefused = false;

  constructor(root: string) {
    this.#root = root;
  }

  aside<T>(value: T, bytes: number): () => T {
    const put = this.#isFull(bytes) ? this.#write(serialize(value)) : undefined;
    if (put) return this.#whole(put);
    return inMemory.aside(value, bytes);
  }

  text(text: string): (start: number, end: number) => string {
    const put = this.#isFull(text.length) ? this.#write(Buffer.from(text, 'utf16le')) : undefined;
    if (put) return this.#stretches(put);
    return inMemory.text(text);
  }

  numbers(numbers: Numbers): (index: number) => number {
    const { buffer, byteOffset, byteLength } = numbers;
    const put = this.#isFull(byteLength) ? this.#write(Buffer.from(buffer, byteOffset, byteLength)) : undefined;
    if (put) return this.#single(put, numbers.BYTES_PER_ELEMENT);
    return inMemory.numbers(numbers);
  }

  // What brings something back is made apart from it: a function keeps its surroundings alive.

  #whole<T>({ start, length }: Extent): () => T {
    return () => deserialize(this.#read(start, length)) as T;
  }

  #stretches({ start: index }: Extent): (start: number, end: number) => string {
    return (start, end) => this.#read(index + start * 2, (end - start) * 2).toString('utf16le');
  }

  #single({ start }: Extent, width: number): (index: number) => number {
    return (index) => {
      const bytes = this.#read(start + index * width, width);
      if (width === 4) return bytes.readInt32LE();
      return bytes.readDoubleLE();
    };
  }

  /** Whether so many bytes more go to the disk. */
  #isFull(bytes: number): boolean {
    const isFull = this.#kept + bytes > this.#bound && !this.#isRefused;
    if (!isFull) this.#kept += bytes;
    return isFull;
  }

  #write(data: Buffer): Extent | undefined {
    const start = this.#size;
    try {
      const file = this.#opened();
      for (let done = 0; done < data.length; ) done += fs.writeSync(file, data, done, data.length - done, start + done);
    } catch {
      // A folder that is read-only, a disk that is full.
      this.#isRefused = true;
      return undefined;
    }

    this.#size += data.length;

    return { start, length: data.length };
  }

  #opened(): number {
    if (this.#file !== undefined) return this.#file;

    makeOwnFolder(this.#root);
    const full = ownPath(this.#root, `${ownFolder}/overflow-${process.pid}`);
    fs.rmSync(full, { force: true });
    const file = fs.openSync(full, 'wx+', 0o600);
    this.#file = file;
    closing.register(this, file);
    fs.rmSync(full, { force: true });
    return file;
  }

  #read(start: number, length: number): Buffer {
    const bytes = Buffer.allocUnsafe(length);
    const file = this.#file ?? -1;
    for (let done = 0; done < length; ) {
      const read = fs.readSync(file, bytes, done, length - done, start + done);
      if (read === 0) throw new Error('what was put aside on the disk is cut off');
      done += read;
    }

    return bytes;
  }
}

/** Where something is in the file, in bytes. */
interface Extent {
  readonly start: number;
  readonly length: number;
}

/** Closes the file of what nobody asks any more. */
const closing = new FinalizationRegistry<number>((file) => fs.closeSync(file));
