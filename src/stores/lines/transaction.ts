import { once } from 'node:events';
import { createGzip, type Gzip } from 'node:zlib';
import { refusingEdits } from '../../workspace/edited.ts';
import { hashBytes } from '../../workspace/files.ts';
import { changedMeanwhile } from '../problem.ts';
import type { EntryChange, FileDraft, FileSink, NewEntry, Stored, Transaction } from '../store.ts';
import { type EntryLine, lineOf } from './entryLine.ts';
import { bytesOf, isCompressed, type Line, linesIn } from './lineReader.ts';
import type { LinesSettings, ReadLine } from './readLine.ts';

/** The line of an entry, unchanged since it was read. */
export interface KnownLine extends Omit<ReadLine, 'read'> {
  readonly read: EntryLine;
}

/**
 * Changes of lines. A file is copied from where its last change was to where the next one is, as changes come, so that
 * no more than one line is kept in memory; one without changes is not touched.
 */
export class LinesTransaction implements Transaction {
  readonly #sink: FileSink;
  readonly #settings: LinesSettings;
  readonly #readAsKnown: (stored: Stored) => Promise<KnownLine>;
  readonly #files = new Map<string, Rewriting>();

  constructor(sink: FileSink, settings: LinesSettings, readAsKnown: (stored: Stored) => Promise<KnownLine>) {
    this.#sink = sink;
    this.#settings = settings;
    this.#readAsKnown = readAsKnown;
  }

  async change({ stored, operations = [], added = [] }: EntryChange): Promise<void> {
    if (stored && operations.length > 0) {
      const { place, read } = await this.#readAsKnown(stored);
      const text = refusingEdits(place.file, () => read.rewrite(operations));
      await this.#rewritingOf(place.file).replace(stored, place.offset, text);
    }

    for (const entry of added) await this.#add(entry, stored);
  }

  async #add(entry: NewEntry, near: Stored | undefined): Promise<void> {
    const file = near?.place.file ?? this.#settings.files[0];
    if (file === undefined) throw new Error('a store of lines without a file takes no entry');
    this.#rewritingOf(file).append(lineOf(entry, this.#settings.keys, this.#settings.type));
  }

  #rewritingOf(file: string): Rewriting {
    const existing = this.#files.get(file) ?? new Rewriting(this.#sink, file);
    this.#files.set(file, existing);
    return existing;
  }

  async prepare(): Promise<void> {
    for (const file of this.#files.values()) await file.finish();
  }
}

/** A file during its change. */
class Rewriting {
  readonly #file: string;
  readonly #lines: AsyncIterator<Line>;
  readonly #out: Output;
  readonly #appended: string[] = [];
  #endsWithLineFeed = true;

  constructor(sink: FileSink, file: string) {
    const { copy, hash } = sink.keep(file);
    this.#file = file;
    this.#lines = linesIn(() => bytesOf(copy, isCompressed(file)), Number.POSITIVE_INFINITY, 'with-empty')[
      Symbol.asyncIterator
    ]();
    this.#out = new Output(sink.rewrite(file, hash), isCompressed(file));
  }

  /** Puts a text where a line is, or nothing. */
  async replace(stored: Stored, offset: number, text: string | undefined): Promise<void> {
    const line = await this.#copyTo(offset);
    if (!line?.bytes || hashBytes(line.bytes) !== stored.version) throw changedMeanwhile(stored.entry, this.#file);
    const endings = line.bytes.at(-1) === 0x0d ? '\r' : '';
    const ending = line.length > line.bytes.length ? '\n' : '';
    if (text !== undefined) await this.#out.write(Buffer.from(`${text}${endings}${ending}`, 'utf8'));
  }

  /** Puts a line at the end of the file. */
  append(text: string): void {
    this.#appended.push(text);
  }

  async finish(): Promise<void> {
    await this.#copyTo(Number.POSITIVE_INFINITY);
    if (this.#appended.length > 0) {
      const start = this.#endsWithLineFeed ? '' : '\n';
      await this.#out.write(Buffer.from(`${start}${this.#appended.map((line) => `${line}\n`).join('')}`, 'utf8'));
    }

    await this.#out.end();
  }

  /** Copies lines as they are up to one that starts at a place, which is taken and not copied. */
  async #copyTo(offset: number): Promise<Line | undefined> {
    for (;;) {
      const { done, value } = await this.#lines.next();
      if (done) return undefined;
      this.#endsWithLineFeed = value.bytes === undefined || value.length > value.bytes.length;
      if (value.offset >= offset) return value;
      await this.#out.line(value);
    }
  }
}

/** Writes bytes to a file that is being drafted, compressed where the file is. */
class Output {
  readonly #draft: FileDraft;
  readonly #gzip: Gzip | undefined;
  /** Until all compressed bytes are written, or one of them could not be. */
  readonly #drained: Promise<void>;
  #pieces: Buffer[] = [];
  #size = 0;

  constructor(draft: FileDraft, isZipped: boolean) {
    this.#draft = draft;
    this.#gzip = isZipped ? createGzip() : undefined;
    this.#drained = this.#gzip ? drain(this.#gzip, draft) : Promise.resolve();
    // What went wrong is thrown where it is waited for.
    this.#drained.catch(() => undefined);
  }

  async line({ bytes, length }: Line): Promise<void> {
    if (!bytes) throw new Error('a line of a file that is copied was not read');
    await this.write(bytes);
    if (length > bytes.length) await this.write(lineFeed);
  }

  async write(bytes: Buffer): Promise<void> {
    this.#pieces.push(bytes);
    this.#size += bytes.length;
    if (this.#size >= enough) await this.#flush();
  }

  async #flush(): Promise<void> {
    const bytes = Buffer.concat(this.#pieces);
    this.#pieces = [];
    this.#size = 0;
    if (!this.#gzip) this.#draft.write(bytes);
    else if (!this.#gzip.write(bytes)) await Promise.race([once(this.#gzip, 'drain'), this.#drained]);
  }

  async end(): Promise<void> {
    await this.#flush();
    this.#gzip?.end();
    await this.#drained;
    this.#draft.done();
  }
}

async function drain(gzip: Gzip, draft: FileDraft): Promise<void> {
  for await (const bytes of gzip as AsyncIterable<Buffer>) draft.write(bytes);
}

const lineFeed = Buffer.from('\n');
/** As many bytes as are written at once. */
const enough = 1 << 18;
