import { type EntryAddress, keyOf } from '../core/entry/entry.ts';
import { statesOf } from './fileStates.ts';
import type { Item, Part, Place, Stored } from './store.ts';

/** What stores have in common that keep several entries in a file which is read as a whole. */
export abstract class ManyInFile {
  readonly can = { positions: true, ownTransactions: false, restoreBytes: true };
  protected readonly root: string;
  readonly #name: string;
  readonly #files: readonly string[];

  /** @param name the name of the store. @param files their paths below the workspace. */
  protected constructor(root: string, { name, files }: { readonly name: string; readonly files: readonly string[] }) {
    this.root = root;
    this.#name = name;
    this.#files = files;
  }

  async parts(): Promise<readonly Part[]> {
    return this.#files.map((file) => ({ store: this.#name, file }));
  }

  fingerprint({ file }: Part): string | undefined {
    return statesOf(this.root, [String(file)]);
  }

  abstract read(part: Part): Iterable<Item>;

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
