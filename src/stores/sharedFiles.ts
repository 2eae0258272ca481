import { refuse } from '../workspace/trouble.ts';
import type { FileSink, WholeFile } from './store.ts';

/** A part of a file that becomes another one: from where to where it stood, in bytes. */
interface Splice {
  readonly from: number;
  readonly to: number;
  readonly bytes: Buffer;
}

/** Puts together what several stores make of a file of which each keeps a part. */
export class SharedFiles implements FileSink {
  readonly #sink: FileSink;
  readonly #shared: ReadonlySet<string>;
  readonly #files = new Map<
    string,
    { readonly before: NonNullable<WholeFile['before']>; readonly splices: Splice[] }
  >();

  /** @param shared the files that more than one store keeps entries in. */
  constructor(sink: FileSink, shared: ReadonlySet<string>) {
    this.#sink = sink;
    this.#shared = shared;
  }

  add(file: WholeFile): void {
    const { before, after } = file;
    if (!before || after?.path !== before.path || !this.#shared.has(before.path)) {
      this.#sink.add(file);
      return;
    }

    const existing = this.#files.get(before.path) ?? { before, splices: [] };
    this.#files.set(before.path, existing);
    existing.splices.push(spliceBetween(before.bytes, after.bytes));
  }

  keep(file: string): ReturnType<FileSink['keep']> {
    return this.#sink.keep(file);
  }

  rewrite(file: string, hash: string): ReturnType<FileSink['rewrite']> {
    return this.#sink.rewrite(file, hash);
  }

  /** Hands on the combined change. @throws {Trouble} where two stores change the same part of a file. */
  done(): void {
    for (const [path, { before, splices }] of this.#files)
      this.#sink.add({ before, after: { path, bytes: spliced(path, before.bytes, splices) } });
  }
}

/** The part in which two texts differ: all between what both begin and end with. */
function spliceBetween(before: Buffer, after: Buffer): Splice {
  const shorter = Math.min(before.length, after.length);
  let start = 0;
  while (start < shorter && before[start] === after[start]) start += 1;
  let end = 0;
  while (end < shorter - start && before[before.length - 1 - end] === after[after.length - 1 - end]) end += 1;
  return { from: start, to: before.length - end, bytes: after.subarray(start, after.length - end) };
}

function spliced(path: string, before: Buffer, splices: readonly Splice[]): Buffer {
  const pieces: Buffer[] = [];
  let index = 0;
  for (const { from, to, bytes } of splices.toSorted((a, b) => a.from - b.from || a.to - b.to)) {
    if (from < index)
      throw refuse('shared-part', `two places that lumbrik.yaml names in ${path} hold the same entries`, {
        mend: 'Name each list or map of it once.',
        where: { file: path },
      });

    pieces.push(before.subarray(index, from), bytes);
    index = to;
  }

  return Buffer.concat([...pieces, before.subarray(index)]);
}
