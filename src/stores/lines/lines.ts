import path from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';
import { type EntryAddress, keyOf } from '../../core/entry/entry.ts';
import type { Path } from '../../core/plain/json.ts';
import type { Limits } from '../../core/plain/limits.ts';
import type { Outcome } from '../../core/plain/outcome.ts';
import type { Span } from '../../core/source/yaml.ts';
import { refusingEdits } from '../../workspace/edited.ts';
import { hashBytes, unreadableBecause, whyNotOpened } from '../../workspace/files.ts';
import { statesOf } from '../fileStates.ts';
import { changedMeanwhile } from '../problem.ts';
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
import {
  bytesOf,
  hashOfRange,
  isCompressed,
  type Line,
  type LineRange,
  lineFrom,
  lineOfBytes,
  linesIn,
  linesNow,
  rangesOf,
} from './lineReader.ts';
import type { LinesSettings, ReadLine } from './readLine.ts';
import { type KnownLine, LinesTransaction } from './transaction.ts';

/** A file of lines, or a range of one. */
interface LinesPart extends Part {
  readonly file: string;
  /** Where the range ends, in bytes; absent where the part is the whole file. */
  readonly to?: number;
}

/** The store of entries that are lines of files. */
export class LinesStore implements EntryStore<LinesPart> {
  readonly can = { restoreBytes: true };
  readonly #root: string;
  readonly #settings: LinesSettings;
  readonly #longest: number;
  readonly #cursors = new Map<string, Cursor>();
  /** Questions about an entry mostly follow its reading. */
  #last: ReadLine | undefined;

  constructor(root: string, settings: LinesSettings) {
    this.#root = root;
    this.#settings = settings;
    this.#longest = longestLine(settings.limits);
  }

  async parts(atMost: number): Promise<readonly LinesPart[]> {
    const { name: store, files } = this.#settings;
    const perFile = Math.ceil(atMost / files.length);
    return files.flatMap((file) => {
      const isWhole = isCompressed(file) || atMost <= 1 || whyNotOpened(this.#root, file) !== undefined;
      if (isWhole) return [{ store, file }];
      const ranges = rangesOf(path.join(this.#root, file), perFile, worthAPart);
      return ranges.map(({ from, line, to }) => ({ store, file, start: { offset: from, line }, to }));
    });
  }

  /** Of a range its file and its bytes, wherever it is there; of a whole file its state. */
  fingerprint({ file, start, to }: LinesPart): string | undefined {
    if (start === undefined || to === undefined) return statesOf(this.#root, [file]);
    const bytes = hashOfRange(path.join(this.#root, file), { from: start.offset, to });
    return hashBytes(`${file}\n${bytes}`);
  }

  read({ file, start, to }: LinesPart): AsyncIterable<Item> | Iterable<Item> {
    const notOpened = whyNotOpened(this.#root, file);
    if (notOpened) return [this.#unreadable(file, notOpened)];
    if (isCompressed(file)) return this.#readCompressed(file);
    return this.#readNow(file, {
      from: start?.offset ?? 0,
      line: start?.line ?? 1,
      to: to ?? Number.POSITIVE_INFINITY,
    });
  }

  *#readNow(file: string, range: LineRange): Iterable<Item> {
    try {
      for (const line of linesNow(path.join(this.#root, file), range, this.#longest))
        if (!line.isBlank()) yield itemOf(this.#readLine(file, line));
    } catch (error) {
      yield this.#unreadable(file, unreadableBecause(error));
    }
  }

  async *#readCompressed(file: string): AsyncIterable<Item> {
    try {
      for await (const line of linesIn(() => bytesOf(path.join(this.#root, file), true), this.#longest))
        if (!line.isBlank()) yield itemOf(this.#readLine(file, line));
    } catch (error) {
      yield this.#unreadable(file, unreadableBecause(error));
    }
  }

  #unreadable(file: string, problem: Problem): Item {
    return { place: { store: this.#settings.name, file }, version: 'unread', problem };
  }

  async get(address: EntryAddress, near?: Place): Promise<Stored | undefined> {
    const { name, files } = this.#settings;
    const isMeant = (item: Item): item is Stored => 'entry' in item && keyOf(item.entry) === keyOf(address);
    const readLine = near?.store === name ? await this.#lineAt(near) : undefined;
    const item = readLine && itemOf(readLine);
    if (item && isMeant(item)) return item;

    for (const file of files) for await (const item of this.read({ store: name, file })) if (isMeant(item)) return item;
    return undefined;
  }

  async locate(place: Place, path: Path): Promise<Span> {
    return spanIn(await this.#lineAt(place), path);
  }

  async attempt({ stored, operations = [] }: EntryChange): Promise<void> {
    if (!stored) return;
    const { read } = await this.#readAsKnown(stored);
    if (!read.canBeRewritten(operations)) refusingEdits(stored.place.file, () => read.rewrite(operations));
  }

  wholeFile(): undefined {
    return undefined;
  }

  linesOf(file: string, bytes: Buffer): FileOfLines | undefined {
    if (!this.#settings.files.includes(file)) return undefined;

    const isZipped = isCompressed(file);
    const unzipped = isZipped ? gunzipSync(bytes, { maxOutputLength: mostAtOnce }) : bytes;
    return {
      lines: cut(unzipped).map((line) => this.#lineOf(file, line)),
      join: (lines) => (isZipped ? gzipSync(Buffer.concat(lines)) : Buffer.concat(lines)),
    };
  }

  /** @param line with what ends it: `\n`, `\r\n`, or nothing. */
  #lineOf(file: string, line: Buffer): LineOfEntry {
    const lineText = line.toString('utf8');
    const text = lineText.replace(/\r?\n$/u, '');
    const ending = lineText.slice(text.length);
    const read = this.#readText(lineOfBytes(Buffer.from(text, 'utf8')).text());

    return {
      bytes: line,
      ...('value' in read ? { entry: read.value.entry } : {}),
      rewrite: (operations) => {
        const become = 'value' in read ? refusingEdits(file, () => read.value.rewrite(operations)) : text;
        if (become === undefined) return undefined;
        return Buffer.from(become + ending, 'utf8');
      },
    };
  }

  begin(sink: FileSink): Transaction {
    return new LinesTransaction(sink, this.#settings, (stored) => this.#readAsKnown(stored));
  }

  #readLine(file: string, line: Line): ReadLine {
    const { offset, number } = line;
    const place = { store: this.#settings.name, file, offset, line: number };
    this.#last = { place, line, read: this.#readText(line.text()) };
    return this.#last;
  }

  #readText(text: ReturnType<Line['text']>): Outcome<EntryLine, Problem> {
    if (text === undefined) return { problem: tooLong(this.#settings.limits) };
    if ('problem' in text) return text;
    const { keys, type, limits } = this.#settings;
    return readEntryLine(text.value, keys, { type, limits });
  }

  async #lineAt({ file, offset = 0, line: number = 1 }: Place): Promise<ReadLine | undefined> {
    if (this.#last?.place.file === file && this.#last.place.offset === offset) return this.#last;
    if (!isCompressed(file)) {
      const line = lineFrom(path.join(this.#root, file), { offset, number }, this.#longest);
      return line && this.#readLine(file, line);
    }

    const cursor = this.#cursors.get(file) ?? new Cursor(path.join(this.#root, file), this.#longest);
    this.#cursors.set(file, cursor);
    const line = await cursor.lineAt(offset);
    return line && this.#readLine(file, line);
  }

  /** The line of an entry as it was read. @throws {Trouble} where it is another one now. */
  async #readAsKnown(stored: Stored): Promise<KnownLine> {
    const line = await this.#lineAt(stored.place);
    if (line?.line.version === stored.version && 'value' in line.read) return { ...line, read: line.read.value };
    throw changedMeanwhile(stored.entry, stored.place.file);
  }
}

/** The longest line that is read, in bytes. */
const longestLine = ({ fileMegabytes }: Limits): number => fileMegabytes * 1024 * 1024;

function itemOf({ place, line, read }: ReadLine): Item {
  if ('value' in read) return new StoredLine(place, read.value.entry, line);
  return { place, version: line.version, problem: { ...read.problem, line: place.line + read.problem.line - 1 } };
}

/** An entry of a line. Most that read it do not change it, and its version takes as long as all that is done to read it. */
class StoredLine implements Stored {
  readonly place: Place;
  readonly entry: Stored['entry'];
  readonly #line: Line;

  constructor(place: Place, entry: Stored['entry'], line: Line) {
    this.place = place;
    this.entry = entry;
    this.#line = line;
  }

  get version(): string {
    return this.#line.version;
  }
}

function spanIn(line: ReadLine | undefined, path: Path): Span {
  const number = line?.place.line ?? 1;
  const start = { line: number, column: 1 };
  if (!line || 'problem' in line.read) return { start, end: start };
  const { start: from, end: to } = line.read.value.locate(path);
  return { start: { line: number, column: from.column }, end: { line: number, column: to.column } };
}

/** Parts smaller than this, in bytes, are read sooner than another thread is there. */
const worthAPart = 1 << 19;

const tooLong = ({ fileMegabytes }: Limits): Problem => ({
  says: `is longer than the ${fileMegabytes} megabytes that are read of one entry`,
  mend: 'Split it, or raise `limits: { fileMegabytes: … }` in lumbrik.yaml.',
  line: 1,
  column: 1,
});

/** Finds lines of a compressed file by where they start. One that comes further down is reached by going on, so that a file is read once. */
class Cursor {
  readonly #full: string;
  readonly #longest: number;
  #lines: AsyncIterator<Line> | undefined;
  #at = 0;

  /** @param longest the longest line that is read, in bytes. */
  constructor(full: string, longest: number) {
    this.#full = full;
    this.#longest = longest;
  }

  async lineAt(offset: number): Promise<Line | undefined> {
    if (!this.#lines || offset < this.#at) {
      await this.#lines?.return?.();
      this.#lines = linesIn(() => bytesOf(this.#full, true), this.#longest)[Symbol.asyncIterator]();
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
