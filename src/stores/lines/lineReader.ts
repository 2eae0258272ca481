import fs from 'node:fs';
import { pipeline, type Readable } from 'node:stream';
import { createGunzip } from 'node:zlib';

/** A line of a file, without what ends it. */
export interface Line {
  /** Where it starts, in bytes of the uncompressed text. */
  readonly offset: number;
  /** How many bytes it takes with what ends it: a line feed, or nothing at the end of the file. */
  readonly length: number;
  /** Counts from 1. */
  readonly number: number;
  /** Its bytes; `undefined` where it is longer than lines may be. */
  readonly bytes: Buffer | undefined;
}

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
 * The lines of a stream, one at a time: no more than one of them is held in memory.
 * @param longest how many bytes a line may have.
 */
export async function* linesIn(stream: Readable, longest: number): AsyncIterable<Line> {
  let pieces: Buffer[] = [];
  let length = 0;
  let offset = 0;
  let number = 1;
  const line = (end: number): Line => {
    const isTooLong = length > longest;
    const one = { offset, length: length + end, number, bytes: isTooLong ? undefined : joined(pieces) };
    offset += one.length;
    number += 1;
    pieces = [];
    length = 0;
    return one;
  };
  const take = (piece: Buffer): void => {
    length += piece.length;
    if (length <= longest) pieces.push(piece);
    else pieces = [];
  };

  for await (const chunk of stream as AsyncIterable<Buffer>) {
    let start = 0;
    for (let end = chunk.indexOf(lineFeed); end >= 0; end = chunk.indexOf(lineFeed, start)) {
      take(chunk.subarray(start, end));
      yield line(1);
      start = end + 1;
    }
    if (start < chunk.length) take(chunk.subarray(start));
  }
  if (length > 0) yield line(0);
}

const lineFeed = 0x0a;

const joined = (pieces: readonly Buffer[]): Buffer =>
  pieces.length === 1 ? (pieces[0] ?? Buffer.alloc(0)) : Buffer.concat(pieces);
