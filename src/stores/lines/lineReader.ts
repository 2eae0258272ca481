import { isAscii, isUtf8 } from 'node:buffer';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import { pipeline, type Readable } from 'node:stream';
import { createGunzip } from 'node:zlib';
import type { Outcome } from '../../core/plain/outcome.ts';
import { decode } from '../../workspace/decode.ts';
import { hashBytes } from '../../workspace/files.ts';
import type { NotRead } from '../../workspace/notRead.ts';

/** Some bytes that were read at once, of which lines are parts. */
class Piece {
  readonly bytes: Buffer;
  readonly #end: number;
  #encoding: 'latin1' | 'utf8' | 'unknown' | undefined;

  /** @param end where the last line ends that is whole. */
  constructor(bytes: Buffer, end = bytes.length) {
    this.bytes = bytes;
    this.#end = end;
  }

  /** How its lines are read fastest. Looked at for all of them at once: most texts are ASCII, and all but few UTF-8. */
  get encoding(): 'latin1' | 'utf8' | 'unknown' {
    this.#encoding ??= encodingOf(this.bytes.subarray(0, this.#end));
    return this.#encoding;
  }
}

function encodingOf(bytes: Buffer): 'latin1' | 'utf8' | 'unknown' {
  if (isAscii(bytes)) return 'latin1';
  if (isUtf8(bytes)) return 'utf8';
  return 'unknown';
}

/** A line of a file, without what ends it. */
export class Line {
  /** Where it starts, in bytes of the uncompressed text. */
  readonly offset: number;
  /** How many bytes it takes with what ends it: a line feed, or nothing at the end of the file. */
  readonly length: number;
  /** Counts from 1. */
  readonly number: number;
  readonly #piece: Piece | undefined;
  readonly #from: number;
  readonly #to: number;
  #version: string | undefined;

  /** @param piece the bytes that it is a part of, from one place to another; absent where it is longer than lines may be. */
  constructor(
    { offset, length, number }: Pick<Line, 'offset' | 'length' | 'number'>,
    piece: Piece | undefined,
    from: number,
    to: number,
  ) {
    this.offset = offset;
    this.length = length;
    this.number = number;
    this.#piece = piece;
    this.#from = from;
    this.#to = to;
  }

  /** Its bytes; `undefined` where it is longer than lines may be. */
  get bytes(): Buffer | undefined {
    return this.#piece?.bytes.subarray(this.#from, this.#to);
  }

  /** What differs whenever its bytes do. */
  get version(): string {
    const { bytes } = this;
    this.#version ??= bytes ? hashBytes(bytes) : 'unread';
    return this.#version;
  }

  isBlank(): boolean {
    if (!this.#piece) return false;
    const first = this.#from < this.#to ? (this.#piece.bytes[this.#from] ?? 0) : 0;
    return first <= 0x20 && /^\s*$/u.test(this.#piece.bytes.toString('latin1', this.#from, this.#to));
  }

  /** Its text, without a carriage return at its end as lines have on Windows. */
  text(): Outcome<string, NotRead> | undefined {
    if (!this.#piece) return undefined;
    const { bytes, encoding } = this.#piece;
    const end = this.#to > this.#from && bytes[this.#to - 1] === 0x0d ? this.#to - 1 : this.#to;
    if (encoding === 'unknown') return decode(bytes.subarray(this.#from, end));
    return { value: bytes.toString(encoding, this.#from, end) };
  }
}

/** A line on its own. */
export const lineOfBytes = (bytes: Buffer): Line =>
  new Line({ offset: 0, length: bytes.length, number: 1 }, new Piece(bytes), 0, bytes.length);

/** Whether the name of a file says that it is compressed. */
export const isCompressed = (file: string): boolean => file.endsWith('.gz');

/** The bytes of a file, uncompressed. */
export function bytesOf(full: string, isZipped: boolean): Readable {
  if (!isZipped) return fs.createReadStream(full, { highWaterMark: 1 << 18 });
  const gunzip = createGunzip();
  // What goes wrong on the way is thrown where the bytes are read.
  pipeline(fs.createReadStream(full, { highWaterMark: 1 << 18 }), gunzip, () => undefined);
  return gunzip;
}

/**
 * The lines of a stream, one at a time: no more than one of them is kept in memory.
 * @param open opens the stream, once the first line is requested: one that nobody reads could fail with nobody to tell.
 * @param longest how many bytes a line may have.
 * @param empty whether lines without a byte are wanted; a file may hold more than a billion of them.
 */
export async function* linesIn(
  open: () => Readable,
  longest: number,
  empty: 'with-empty' | 'without-empty' = 'without-empty',
): AsyncIterable<Line> {
  const cutter = new LineCutter({ from: 0, line: 1 }, longest, empty === 'with-empty');
  for await (const chunk of open() as AsyncIterable<Buffer>) yield* cutter.cut(chunk);
  yield* cutter.rest();
}

/** Cuts pieces of a file, as they come, into lines. */
class LineCutter {
  readonly #longest: number;
  readonly #isWithEmpty: boolean;
  #offset: number;
  #number: number;
  /** The start of a line that goes on in the next piece. */
  #begun: Buffer[] = [];
  #length = 0;

  constructor({ from, line }: Pick<LineRange, 'from' | 'line'>, longest: number, isWithEmpty = false) {
    this.#longest = longest;
    this.#isWithEmpty = isWithEmpty;
    this.#offset = from;
    this.#number = line;
  }

  *cut(bytes: Buffer): Iterable<Line> {
    const piece = new Piece(bytes, bytes.lastIndexOf(lineFeed) + 1);
    let start = this.#length > 0 ? 0 : this.#afterEmpty(bytes, 0);
    for (let end = bytes.indexOf(lineFeed, start); end >= 0; end = bytes.indexOf(lineFeed, start)) {
      yield this.#length > 0 ? this.#joined(bytes.subarray(start, end), 1) : this.#line(piece, start, end, 1);
      start = this.#afterEmpty(bytes, end + 1);
    }

    const rest = bytes.subarray(start);
    this.#length += rest.length;
    if (this.#length > this.#longest) this.#begun = [];
    else if (rest.length > 0) this.#begun.push(rest);
  }

  /** Where the next line starts that has a byte, unless empty ones are wanted. */
  #afterEmpty(bytes: Buffer, start: number): number {
    let index = start;
    if (!this.#isWithEmpty) while (bytes[index] === lineFeed) index += 1;
    this.#offset += index - start;
    this.#number += index - start;
    return index;
  }

  /** The last line, where nothing ends it. */
  *rest(): Iterable<Line> {
    if (this.#length > 0) yield this.#joined(Buffer.alloc(0), 0);
  }

  #joined(last: Buffer, ending: number): Line {
    const length = this.#length + last.length;
    const piece = length > this.#longest ? undefined : new Piece(Buffer.concat([...this.#begun, last]));
    this.#begun = [];
    this.#length = 0;
    return this.#line(piece, 0, length, ending);
  }

  #line(piece: Piece | undefined, from: number, to: number, ending: number): Line {
    const length = to - from + ending;
    const part = to - from > this.#longest ? undefined : piece;
    const line = new Line({ offset: this.#offset, length, number: this.#number }, part, from, to);
    this.#offset += length;
    this.#number += 1;
    return line;
  }
}

const lineFeed = 0x0a;

/** So many bytes are read at a time. */
const atATime = 1 << 20;

/** A piece of a file that begins and ends where lines do. */
export interface LineRange {
  /** In bytes; it ends before `to`. */
  readonly from: number;
  readonly to: number;
  /** The number of its first line. */
  readonly line: number;
}

/**
 * The lines of a range of a file that is not compressed, one at a time. They share the memory that they were read into
 * with a few of those around them.
 */
export function* linesNow(full: string, range: LineRange, longest: number): Iterable<Line> {
  const cutter = new LineCutter(range, longest);
  for (const piece of piecesOf(full, range)) yield* cutter.cut(piece);
  yield* cutter.rest();
}

/** The line that starts at a place of a file that is not compressed; `undefined` behind its end. */
export function lineFrom(
  full: string,
  { offset, number }: Pick<Line, 'offset' | 'number'>,
  longest: number,
): Line | undefined {
  const cutter = new LineCutter({ from: offset, line: number }, longest);
  for (const piece of piecesOf(full, { from: offset, to: Number.POSITIVE_INFINITY }, atFirst))
    for (const line of cutter.cut(piece)) return line;
  for (const line of cutter.rest()) return line;
  return undefined;
}

/** As many bytes as most lines have. */
const atFirst = 1 << 12;

/** @param first how many bytes are read at first; more each time, up to as many as are read at a time. */
function* piecesOf(
  full: string,
  { from, to }: Pick<LineRange, 'from' | 'to'>,
  first: number = atATime,
): Iterable<Buffer> {
  const handle = fs.openSync(full, 'r');
  try {
    let size = first;
    for (let index = from; index < to; size = Math.min(atATime, size * 4)) {
      const piece = Buffer.allocUnsafeSlow(Math.min(size, to - index));
      const read = fs.readSync(handle, piece, 0, piece.length, index);
      if (read === 0) return;
      yield piece.subarray(0, read);
      index += read;
    }
  } finally {
    fs.closeSync(handle);
  }
}

/**
 * Cuts a file that is not compressed into ranges of about the same size: behind certain lines, so that text inserted or
 * taken out changes the ranges around it and none of the others.
 */
export function rangesOf(full: string, atMost: number, atLeastBytes: number): readonly LineRange[] {
  const { size } = fs.statSync(full);
  const partSize = Math.max(atLeastBytes, Math.ceil(size / Math.max(1, atMost)));
  const ranges: LineRange[] = [];
  let from = 0;
  let first = 1;
  let line = 1;
  let index = 0;
  for (const piece of piecesOf(full, { from: 0, to: size })) {
    for (let end = piece.indexOf(lineFeed); end >= 0; end = piece.indexOf(lineFeed, end + 1)) {
      line += 1;
      const next = index + end + 1;
      if (next - from < partSize || !(isCut(piece, end) || next - from >= 2 * partSize)) continue;
      ranges.push({ from, to: next, line: first });
      from = next;
      first = line;
    }

    index += piece.length;
  }

  if (from < index || ranges.length === 0) ranges.push({ from, to: index, line: first });

  return ranges;
}

/** A hash of the bytes of a range, wherever it stands (BLAKE2b, RFC 7693: the fastest that cannot be forged). */
export function hashOfRange(full: string, range: Pick<LineRange, 'from' | 'to'>): string {
  const hash = createHash('blake2b512');
  for (const piece of piecesOf(full, range)) hash.update(piece);
  return hash.digest('hex').slice(0, 64);
}

/** Whether a range may end behind a line, by its last bytes. */
function isCut(piece: Buffer, end: number): boolean {
  let sum = 0;
  for (let index = Math.max(0, end - 16); index < end; index += 1) sum = (sum * 31 + (piece[index] ?? 0)) | 0;
  return (sum & 0x3f) === 0;
}
