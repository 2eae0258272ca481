import fs from 'node:fs';
import path from 'node:path';
import { constants, gunzipSync } from 'node:zlib';
import { isList, isObject, type Json, type JsonObject } from '../../core/plain/json.ts';
import type { Limits } from '../../core/plain/limits.ts';
import type { Outcome } from '../../core/plain/outcome.ts';
import { list } from '../../core/plain/words.ts';
import { endings } from '../../stores/folder/entryFile.ts';
import { type Encoding, textIn } from '../../stores/table/encoding.ts';
import { delimiterIn, headedRows, rowsOf } from '../../stores/table/rows.ts';
import { readBytes, readText, whyNotOpened } from '../../workspace/files.ts';
import type { NotRead } from '../../workspace/notRead.ts';
import { collectionsIn, keysBeside } from './collections.ts';

/** What in a file is in no entry, and why. */
export interface LeftOut {
  readonly keys?: readonly string[];
  readonly because: string;
}

/** So many entries of a file are looked at to find out how it keeps them. */
const sampled = 500;

/** How a file keeps entries. */
export interface EntrySource {
  readonly way: 'lines' | 'json' | 'csv';
  readonly isMap: boolean;
  /** The keys that lead to it in a file of JSON. */
  readonly at?: readonly string[];
  /** What else is in that file, and is in no entry. */
  readonly beside?: LeftOut | undefined;
  /** The text between the cells of a table. */
  readonly delimiter?: string;
  /** What a table is written in, where that is not UTF-8. */
  readonly encoding?: Encoding | undefined;
  /** Some of its entries as they are stored. */
  readonly sample: readonly JsonObject[];
}

/** How files are read. */
interface KeptAs {
  readonly encoding: Encoding | undefined;
  readonly limits: Limits;
}

/** How a file keeps entries: each to itself, many, or none. */
export function keptIn(
  root: string,
  file: string,
  { encoding, limits }: KeptAs,
): Outcome<readonly EntrySource[] | 'entry', string> {
  const isDeep = file.split('/').length > 2;
  if (/\.(?:ndjson|jsonl)(?:\.gz)?$/u.test(file)) return linesIn(root, file);
  if (/\.(?:csv|tsv)$/u.test(file)) return tableIn(path.join(root, file), { encoding, limits });

  if (file.endsWith('.json')) {
    const text = readText(path.join(root, file), limits);
    if ('problem' in text) return { problem: `it ${saysOf(text.problem)}` };
    const data = parsed(text.value);
    if (data === undefined) return { problem: 'it is no JSON' };
    const collections = isDeep && !isList(data) ? [] : jsonIn(data);
    if (collections.length > 0) return { value: collections };
  }

  if (!endings.some((ending) => file.endsWith(ending))) return { problem: 'it is of no format that holds entries' };
  if (isDeep) return { value: 'entry' };
  return { problem: 'it lies in no folder that would tell its type' };
}

/** The lists and maps that a file of JSON keeps entries in. */
function jsonIn(data: Json): readonly EntrySource[] {
  const collections = collectionsIn(data);
  const otherKeys = keysBeside(data, collections);
  const ways = collections.map(({ way }) => way.join('.'));
  const beside = { keys: otherKeys, because: `entries are in ${list(ways)}` };

  return collections.map(({ way, isMap, entries }, index) => ({
    way: 'json',
    at: way,
    isMap,
    sample: entries.slice(0, sampled),
    beside: index === 0 && otherKeys.length > 0 ? beside : undefined,
  }));
}

function linesIn(root: string, file: string): Outcome<readonly EntrySource[], string> {
  const text = startOf(path.join(root, file));
  if ('problem' in text) return { problem: `it ${text.problem.says}` };

  const sample = text.value
    .split('\n', sampled)
    .map(parsed)
    .filter((value): value is JsonObject => isObject(value as Json));

  if (sample.length === 0) return { problem: 'none of its lines is an object of JSON' };
  return { value: [{ way: 'lines', isMap: false, sample }] };
}

/** So many bytes of a file of lines are looked at. */
const start = 1 << 20;

/** The beginning of a file that may be of any size; its last line may be cut off. */
function startOf(file: string): Outcome<string, NotRead> {
  const notOpened = whyNotOpened(path.dirname(file), path.basename(file));
  if (notOpened) return { problem: notOpened };

  const handle = fs.openSync(file, 'r');
  try {
    const bytes = Buffer.alloc(start);
    const read = bytes.subarray(0, fs.readSync(handle, bytes));
    if (file.endsWith('.gz')) return unzippedStart(read);
    return { value: read.toString('utf8') };
  } finally {
    fs.closeSync(handle);
  }
}

/** So many bytes of a compressed file are looked at, and no more than so many that it comes to. */
const [zippedStart, mostUnzipped] = [1 << 16, 1 << 26];

/** What the beginning of a compressed file comes to. */
function unzippedStart(bytes: Buffer): Outcome<string, NotRead> {
  try {
    const options = { finishFlush: constants.Z_SYNC_FLUSH, maxOutputLength: mostUnzipped };
    return { value: gunzipSync(bytes.subarray(0, zippedStart), options).toString('utf8') };
  } catch {
    return { problem: { says: 'cannot be unpacked as gzip', mend: 'Pack it anew.', line: 1, column: 1 } };
  }
}

/** Why a file is not read; of one that is too large also what to do. */
const saysOf = ({ says: message, isTooLarge }: NotRead): string => {
  if (!isTooLarge) return message;
  return `${message}: let it be larger (--file-megabytes), or make lines of JSON of it (.ndjson), of any size`;
};

function tableIn(file: string, { encoding: statedEncoding, limits }: KeptAs): Outcome<readonly EntrySource[], string> {
  const bytes = readBytes(file, limits);
  if ('problem' in bytes) return { problem: `it ${saysOf(bytes.problem)}` };

  const plain = textIn(bytes.value, undefined);
  const encoding = 'problem' in plain ? statedEncoding : undefined;
  const read = encoding ? textIn(bytes.value, encoding) : plain;
  if ('problem' in read) return { problem: `it ${read.problem.says}; say what it is in: --encoding windows-1252` };

  const text = read.value;
  const delimiter = delimiterIn(text, file);
  const rows = rowsOf(text, delimiter);
  if ('problem' in rows) return { problem: `a row ${rows.problem.says} (line ${rows.problem.line})` };

  const headed = headedRows(rows.value);
  if (!headed || headed.rows.length === 0)
    return { problem: 'it has no rows below its first one, which names the columns' };

  const { columns, rows: otherRows } = headed;
  const value = valueAmong(columns);
  if (value !== undefined)
    return { problem: `its first row names no columns: “${value}” is a value; write their names above it` };

  const sample = otherRows
    .slice(0, sampled)
    .map(({ cells }) => Object.fromEntries(columns.map((column, index) => [column, cells[index]?.text ?? ''])));

  return { value: [{ way: 'csv', isMap: false, delimiter, encoding, sample }] };
}

/** The first of some cells that is a value rather than the name of a column. Years are names, and numbers in a row. */
function valueAmong(cells: readonly string[]): string | undefined {
  const isNumber = (cell: string | undefined): boolean => cell !== undefined && /^[-+]?\d[\d.,' ]*$/u.test(cell.trim());
  const isYear = (cell: string): boolean => /^[12]\d{3}$/u.test(cell.trim());
  const isNext = (cell: string, index: number): boolean =>
    [-1, 1].some((way) => Number(cells[index + way]) === Number(cell) + way && isNumber(cells[index + way]));
  return cells.find(
    (cell, index) =>
      (isNumber(cell) && !isYear(cell) && !isNext(cell, index)) ||
      /^\d{4}-\d{2}-\d{2}|^\d{1,2}[./]\d{1,2}[./]\d{2,4}$|^[^@\s]+@[^@\s]+\.\w+$|^https?:\/\//u.test(cell.trim()),
  );
}

function parsed(text: string): Json | undefined {
  try {
    return JSON.parse(text) as Json;
  } catch {
    return undefined;
  }
}
