import path from 'node:path';
import { type EntryAddress, keyOf } from '../core/entry/entry.ts';
import type { Limits } from '../core/plain/limits.ts';
import type { Outcome } from '../core/plain/outcome.ts';
import { hashBytes, readBytes } from '../workspace/files.ts';
import { statesOf } from './fileStates.ts';
import type { KeyNames } from './keys.ts';
import type { Item, Part, Place, Problem, Stored } from './store.ts';

/** Files that hold several entries each. */
export interface ManyInFileSettings {
  readonly name: string;
  /** Their paths below the workspace. */
  readonly files: readonly string[];
  /** The type of entries that do not say their own. */
  readonly type: string | undefined;
  readonly keys: KeyNames;
  readonly limits: Limits;
}

/** A file that was read. */
export interface WholeRead {
  readonly hash: string;
  readonly bytes: Buffer;
}

/** A file, as a part of its store. */
export interface FilePart extends Part {
  readonly file: string;
}

/** What stores have in common that keep several entries in a file which is read as a whole. */
export abstract class ManyInFile<W extends WholeRead> {
  readonly can = { restoreBytes: true };
  protected readonly root: string;
  readonly #name: string;
  readonly #files: readonly string[];
  readonly #limits: Limits;
  /** Questions about an entry mostly follow the reading of its file. */
  #last: { readonly file: string; readonly whole: W } | undefined;

  protected constructor(root: string, { name, files, limits }: ManyInFileSettings) {
    this.root = root;
    this.#name = name;
    this.#files = files;
    this.#limits = limits;
  }

  /** What the bytes of a file say. */
  protected abstract understand(file: string, read: WholeRead): Outcome<W, Problem>;

  /** The entries of a file, in order. */
  protected abstract itemsIn(file: string, content: W): Iterable<Item>;

  *read({ file }: FilePart): Iterable<Item> {
    const content = this.readFile(file);
    if ('problem' in content) yield { place: { store: this.#name, file }, version: 'unread', problem: content.problem };
    else yield* this.itemsIn(file, content.value);
  }

  /** A file as it is now. */
  protected readFile(file: string): Outcome<W, Problem> {
    const fileBytes = readBytes(path.join(this.root, file), this.#limits);
    if ('problem' in fileBytes) return fileBytes;

    const bytes = fileBytes.value;
    const hash = hashBytes(bytes);
    if (this.#last?.file === file && this.#last.whole.hash === hash) return { value: this.#last.whole };

    const content = this.understand(file, { hash, bytes });
    if ('value' in content) this.#last = { file, whole: content.value };
    return content;
  }

  /** A file as it was read last. */
  protected known(file: string): Outcome<W, Problem> {
    if (this.#last?.file === file) return { value: this.#last.whole };
    return this.readFile(file);
  }

  async parts(): Promise<readonly FilePart[]> {
    return this.#files.map((file) => ({ store: this.#name, file }));
  }

  fingerprint({ file }: FilePart): string | undefined {
    return statesOf(this.root, [file]);
  }

  async get(address: EntryAddress, near?: Place): Promise<Stored | undefined> {
    for (const file of near?.store === this.#name ? [near.file, ...this.#files] : this.#files)
      for (const item of this.read({ store: this.#name, file }))
        if ('entry' in item && keyOf(item.entry) === keyOf(address)) return item;
    return undefined;
  }

  wholeFile(): undefined {
    return undefined;
  }

  linesOf(): undefined {
    return undefined;
  }
}

/** The one of some parts of a text, in order, that starts at a place; found by halving, since there may be very many. */
export function startingAt<T extends { readonly start: number }>(
  parts: readonly T[],
  place: number | undefined,
): T | undefined {
  let [low, high] = [0, parts.length - 1];
  while (low <= high) {
    const middle = (low + high) >> 1;
    const start = parts[middle]?.start ?? 0;
    if (start === place) return parts[middle];
    if (start < (place ?? -1)) low = middle + 1;
    else high = middle - 1;
  }

  return undefined;
}
