import path from 'node:path';
import { keyOf } from '../../core/entry/entry.ts';
import type { Path } from '../../core/plain/json.ts';
import { limits } from '../../core/plain/limits.ts';
import type { Span } from '../../core/source/yaml.ts';
import { refusingEdits } from '../../workspace/edited.ts';
import { decode, hashBytes, statOf, unreadableBecause } from '../../workspace/files.ts';
import { refuse } from '../../workspace/trouble.ts';
import type { EntryStore, Item, Part, Place, Problem, Stored } from '../store.ts';
import { type EntryLine, readEntryLine } from './entryLine.ts';
import { bytesOf, isCompressed, type Line, linesIn } from './lineReader.ts';
import type { LinesSettings, ReadLine } from './readLine.ts';
import { LinesTransaction } from './transaction.ts';

/** The store of entries that are lines of files. */
export function linesStore(root: string, settings: LinesSettings): EntryStore {
  const { name, files, type, keys } = settings;
  // What is asked about an entry mostly follows upon reading it.
  let last: ReadLine | undefined;
  const cursors = new Map<string, Cursor>();
  const longest = (): number => limits().fileMegabytes * 1024 * 1024;

  const readLine = (file: string, line: Line): ReadLine => {
    const place = { store: name, file, offset: line.offset, line: line.number };
    last = { place, length: line.length, version: line.bytes ? hashBytes(line.bytes) : 'unread', read: read(line) };
    return last;
  };
  const read = ({ bytes }: Line): EntryLine | Problem => {
    if (!bytes) return tooLong();
    const text = decode(withoutReturn(bytes));
    if (typeof text !== 'string') {
      const { notRead: says, ...problem } = text;
      return { says, ...problem };
    }
    return readEntryLine(text, keys, type);
  };
  const lineAt = async ({ file, offset = 0 }: Place): Promise<ReadLine | undefined> => {
    if (last?.place.file === file && last.place.offset === offset) return last;
    const cursor = cursors.get(file) ?? new Cursor(path.join(root, file), longest());
    cursors.set(file, cursor);
    const line = await cursor.lineAt(offset);
    return line && readLine(file, line);
  };
  const readAsKnown = async (of: Stored): Promise<ReadLine & { readonly read: EntryLine }> => {
    const line = await lineAt(of.place);
    if (line && line.version === of.version && 'entry' in line.read) return { ...line, read: line.read };
    throw refuse('changed-meanwhile', `${keyOf(of.entry)} changed while it was worked on`, {
      mend: 'Nothing was written. Try again.',
      where: { file: of.place.file },
    });
  };

  async function* readFile(part: Part): AsyncIterable<Item> {
    const file = String(part.file);
    const problem = problemOf(root, file);
    if (problem) {
      yield { place: { store: name, file }, version: 'unread', problem };
      return;
    }
    try {
      for await (const line of linesIn(bytesOf(path.join(root, file), isCompressed(file)), longest())) {
        if (line.bytes && isBlank(line.bytes)) continue;
        yield itemOf(readLine(file, line));
      }
    } catch (error) {
      yield { place: { store: name, file }, version: 'unread', problem: unreadableBecause(error) };
    }
  }

  return {
    can: { positions: true, ownTransactions: false, restoreBytes: true },
    parts: async () => files.map((file) => ({ store: name, file })),
    read: readFile,
    get: async (address, near) => {
      const known = near?.store === name ? await lineAt(near) : undefined;
      const item = known && itemOf(known);
      if (item && 'entry' in item && keyOf(item.entry) === keyOf(address)) return item;
      for (const file of files)
        for await (const one of readFile({ store: name, file }))
          if ('entry' in one && keyOf(one.entry) === keyOf(address)) return one;
      return undefined;
    },
    locate: async (place, at) => spanIn(await lineAt(place), at),
    attempt: async ({ of, operations = [] }) => {
      if (!of) return;
      const line = await readAsKnown(of);
      refusingEdits(of.place.file, () => line.read.rewrite(operations));
    },
    begin: (sink) => new LinesTransaction(sink, settings, readAsKnown),
  };
}

const itemOf = ({ place, version, read }: ReadLine): Item =>
  'entry' in read
    ? { place, version, entry: read.entry }
    : { place, version, problem: { ...read, line: place.line + read.line - 1 } };

function spanIn(line: ReadLine | undefined, at: Path): Span {
  const number = line?.place.line ?? 1;
  const start = { line: number, column: 1 };
  if (!line || !('entry' in line.read)) return { start, end: start };
  const { start: from, end: to } = line.read.locate(at);
  return { start: { line: number, column: from.column }, end: { line: number, column: to.column } };
}

const isBlank = (bytes: Buffer): boolean => bytes.length === 0 || /^\s*$/u.test(bytes.toString('latin1'));

/** Lines may end as they do on Windows. */
const withoutReturn = (bytes: Buffer): Buffer => (bytes.at(-1) === 0x0d ? bytes.subarray(0, -1) : bytes);

const tooLong = (): Problem => ({
  says: `is longer than the ${limits().fileMegabytes} megabytes that are read of one entry`,
  mend: 'Split it, or raise `limits: { fileMegabytes: … }` in lumbrik.yaml.',
  line: 1,
  column: 1,
});

/** Why a file cannot be opened at all; links, pipes and folders are not followed or waited for. */
function problemOf(root: string, file: string): Problem | undefined {
  const stat = statOf(path.join(root, file));
  const here = { line: 1, column: 1 };
  if (!stat)
    return { says: 'is not there', mend: 'Put it there, or take it out of `content` in lumbrik.yaml.', ...here };
  if (stat.isSymbolicLink())
    return {
      says: 'is a symbolic link',
      mend: 'Put the file itself here; links are never followed.',
      ...here,
      isLink: true,
    };
  return stat.isFile() ? undefined : { says: 'is no regular file', mend: 'Remove it.', ...here };
}

/** Finds lines by where they start. One that comes further down is reached by going on, so that a file is read once. */
class Cursor {
  readonly #full: string;
  readonly #longest: number;
  #lines: AsyncIterator<Line> | undefined;
  #at = 0;

  constructor(full: string, longest: number) {
    this.#full = full;
    this.#longest = longest;
  }

  async lineAt(offset: number): Promise<Line | undefined> {
    if (!this.#lines || offset < this.#at) {
      await this.#lines?.return?.();
      this.#lines = linesIn(bytesOf(this.#full, isCompressed(this.#full)), this.#longest)[Symbol.asyncIterator]();
      this.#at = 0;
    }
    for (;;) {
      const { done, value } = await this.#lines.next();
      if (done) {
        this.#lines = undefined;
        return undefined;
      }
      this.#at = value.offset + value.length;
      if (value.offset === offset) return value;
      if (value.offset > offset) return undefined;
    }
  }
}
