import path from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';
import { type EntryAddress, keyOf } from '../../core/entry/entry.ts';
import type { Path } from '../../core/plain/json.ts';
import { limits } from '../../core/plain/limits.ts';
import type { Span } from '../../core/source/yaml.ts';
import { refusingEdits } from '../../workspace/edited.ts';
import { decode, hashBytes, unreadableBecause, whyNotOpened } from '../../workspace/files.ts';
import { changedMeanwhile, problemOf } from '../problem.ts';
import type {
  EntryChange,
  EntryStore,
  FileOfLines,
  FileSink,
  Item,
  LineOfEntry,
  Part,
  Place,
  Problem,
  Stored,
  Transaction,
} from '../store.ts';
import { type EntryLine, readEntryLine } from './entryLine.ts';
import { bytesOf, isCompressed, type Line, linesIn } from './lineReader.ts';
import type { LinesSettings, ReadLine } from './readLine.ts';
import { LinesTransaction } from './transaction.ts';

/** The store of entries that are lines of files. */
export class LinesStore implements EntryStore {
  readonly can = { positions: true, ownTransactions: false, restoreBytes: true };
  readonly #root: string;
  readonly #settings: LinesSettings;
  readonly #cursors = new Map<string, Cursor>();
  /** What is asked about an entry mostly follows upon reading it. */
  #last: ReadLine | undefined;

  constructor(root: string, settings: LinesSettings) {
    this.#root = root;
    this.#settings = settings;
  }

  async parts(): Promise<readonly Part[]> {
    const { name, files } = this.#settings;
    return files.map((file) => ({ store: name, file }));
  }

  async *read(part: Part): AsyncIterable<Item> {
    const file = String(part.file);
    const place = { store: this.#settings.name, file };
    const notOpened = whyNotOpened(this.#root, file);
    if (notOpened) {
      yield { place, version: 'unread', problem: problemOf(notOpened) };
      return;
    }

    try {
      for await (const line of linesIn(bytesOf(path.join(this.#root, file), isCompressed(file)), longest()))
        if (!line.bytes || !isBlank(line.bytes)) yield itemOf(this.#readLine(file, line));
    } catch (error) {
      yield { place, version: 'unread', problem: unreadableBecause(error) };
    }
  }

  async get(address: EntryAddress, near?: Place): Promise<Stored | undefined> {
    const { name, files } = this.#settings;
    const isMeant = (item: Item): item is Stored => 'entry' in item && keyOf(item.entry) === keyOf(address);
    const known = near?.store === name ? await this.#lineAt(near) : undefined;
    const item = known && itemOf(known);
    if (item && isMeant(item)) return item;
    for (const file of files) for await (const one of this.read({ store: name, file })) if (isMeant(one)) return one;
    return undefined;
  }

  async locate(place: Place, at: Path): Promise<Span> {
    return spanIn(await this.#lineAt(place), at);
  }

  async attempt({ of, operations = [] }: EntryChange): Promise<void> {
    if (!of) return;
    const { read } = await this.#readAsKnown(of);
    refusingEdits(of.place.file, () => read.rewrite(operations));
  }

  wholeFile(): undefined {
    return undefined;
  }

  linesOf(file: string, bytes: Buffer): FileOfLines | undefined {
    if (!this.#settings.files.includes(file)) return undefined;
    const isZipped = isCompressed(file);
    const whole = isZipped ? gunzipSync(bytes, { maxOutputLength: mostAtOnce }) : bytes;
    return {
      lines: cut(whole).map((line) => this.#lineOf(file, line)),
      join: (lines) => (isZipped ? gzipSync(Buffer.concat(lines)) : Buffer.concat(lines)),
    };
  }

  /** @param line with what ends it: `\n`, `\r\n`, or nothing. */
  #lineOf(file: string, line: Buffer): LineOfEntry {
    const whole = line.toString('utf8');
    const text = whole.replace(/\r?\n$/u, '');
    const ending = whole.slice(text.length);
    const read = this.#readBytes(Buffer.from(text, 'utf8'));
    return {
      bytes: line,
      ...('entry' in read ? { entry: read.entry } : {}),
      rewrite: (operations) => {
        const become = 'entry' in read ? refusingEdits(file, () => read.rewrite(operations)) : text;
        return become === undefined ? undefined : Buffer.from(become + ending, 'utf8');
      },
    };
  }

  begin(sink: FileSink): Transaction {
    return new LinesTransaction(sink, this.#settings, (of) => this.#readAsKnown(of));
  }

  #readLine(file: string, line: Line): ReadLine {
    const { bytes, offset, number, length } = line;
    const place = { store: this.#settings.name, file, offset, line: number };
    this.#last = { place, length, version: bytes ? hashBytes(bytes) : 'unread', read: this.#readBytes(bytes) };
    return this.#last;
  }

  #readBytes(bytes: Buffer | undefined): EntryLine | Problem {
    if (!bytes) return tooLong();
    const text = decode(withoutReturn(bytes));
    const { keys, type } = this.#settings;
    return typeof text === 'string' ? readEntryLine(text, keys, type) : problemOf(text);
  }

  async #lineAt({ file, offset = 0 }: Place): Promise<ReadLine | undefined> {
    if (this.#last?.place.file === file && this.#last.place.offset === offset) return this.#last;
    const cursor = this.#cursors.get(file) ?? new Cursor(path.join(this.#root, file), isCompressed(file));
    this.#cursors.set(file, cursor);
    const line = await cursor.lineAt(offset);
    return line && this.#readLine(file, line);
  }

  /** The line of an entry as it was read. @throws {Trouble} where it is another one by now. */
  async #readAsKnown(of: Stored): Promise<ReadLine & { readonly read: EntryLine }> {
    const line = await this.#lineAt(of.place);
    if (line && line.version === of.version && 'entry' in line.read) return { ...line, read: line.read };
    throw changedMeanwhile(of.entry, of.place.file);
  }
}

const longest = (): number => limits().fileMegabytes * 1024 * 1024;

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

/** Finds lines by where they start. One that comes further down is reached by going on, so that a file is read once. */
class Cursor {
  readonly #full: string;
  readonly #isZipped: boolean;
  #lines: AsyncIterator<Line> | undefined;
  #at = 0;

  constructor(full: string, isZipped: boolean) {
    this.#full = full;
    this.#isZipped = isZipped;
  }

  async lineAt(offset: number): Promise<Line | undefined> {
    if (!this.#lines || offset < this.#at) {
      await this.#lines?.return?.();
      this.#lines = linesIn(bytesOf(this.#full, this.#isZipped), longest())[Symbol.asyncIterator]();
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

/** So many bytes are looked at together, where a file has to be taken as a whole. */
const mostAtOnce = 1 << 30;

/** The lines of some bytes, each with what ends it. */
function cut(bytes: Buffer): readonly Buffer[] {
  const lines: Buffer[] = [];
  let start = 0;
  for (let end = bytes.indexOf(0x0a); end >= 0; end = bytes.indexOf(0x0a, start)) {
    lines.push(bytes.subarray(start, end + 1));
    start = end + 1;
  }
  if (start < bytes.length) lines.push(bytes.subarray(start));
  return lines;
}
