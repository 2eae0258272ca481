import fs from 'node:fs';
import path from 'node:path';
import { isName, nameFrom } from '../../core/definition/address.ts';
import { contentFolder, filesNamed, type StoreOptions } from '../../core/definition/workspace.ts';
import { listSeparator } from '../../core/plain/cells.ts';
import { compact, isList, isObject, type Json, type JsonObject } from '../../core/plain/json.ts';
import { didYouMean } from '../../core/plain/nearest.ts';
import type { Outcome } from '../../core/plain/outcome.ts';
import { list, listSome, quote } from '../../core/plain/words.ts';
import { endings } from '../../stores/folder/entryFile.ts';
import { type Encoding, textIn } from '../../stores/table/encoding.ts';
import { delimiterIn, rowsOf } from '../../stores/table/rows.ts';
import { contentRevisionFile } from '../../workspace/contentRevision.ts';
import { isTermsFile } from '../../workspace/contentTerms.ts';
import { listFiles, type NotRead, readBytes, readText, whyNotOpened } from '../../workspace/files.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { collectionsIn, keysBeside, tellsApart, usualIds } from './collections.ts';

/** Where entries were found that a model can be learnt from. */
export interface Sources {
  readonly content: readonly StoreOptions[];
  /** The key that says of what type an entry is; `false` where `type` holds something else, and is a field. */
  readonly typeKey: string | false;
  /** What that key holds, where entries of all of these have the same keys, and so it was taken for a field. */
  readonly alikeTypes: readonly string[];
  /** Whether nothing else lies in the content folder than files that keep many entries each. */
  readonly areAlone: boolean;
  /** Files of the content folder in which no entries were found, or keys in one that are in no entry, with the reason. */
  readonly left: readonly Left[];
}

interface Left {
  readonly file: string;
  readonly keys?: readonly string[];
  readonly because: string;
}

/** What was said of the keys under which entries say what they are. */
export interface SaidKeys {
  /** The key that tells entries apart. */
  readonly id?: string | undefined;
  /** The key that says of what type an entry is; `false` where none does. */
  readonly type?: string | false | undefined;
  /** What tables are written in that are not in UTF-8. */
  readonly encoding?: Encoding | undefined;
}

/** So many entries of a file are looked at to find out how it keeps them. */
const sampled = 500;

/**
 * Finds out how entries are kept in the content folder of what will be a workspace.
 * @param wanted the files and folders that are meant, below the root; all of them where none is named.
 */
export function sourcesIn(root: string, wanted: readonly string[], said: SaidKeys): Sources {
  const stores: StoreOptions[] = [];
  const left: Left[] = [];
  const types = new TypesSeen();
  const keys = new Set<string>();
  const folders = new Set<string>();
  const all = listFiles(root, contentFolder, ['']).map((file) => `${contentFolder}/${file}`);
  const files = all
    .filter((file) => file !== contentRevisionFile && !isTermsFile(file))
    .filter(
      (file) =>
        wanted.length === 0 ||
        wanted.some((one) => one === contentFolder || file === one || file.startsWith(`${one}/`)),
    );
  for (const file of files) {
    const kept = keptIn(root, file, said.encoding);
    if ('problem' in kept) left.push({ file, because: kept.problem });
    else if (kept.value === 'entry') {
      const [, folder = ''] = file.split('/');
      folders.add(folder);
    } else
      for (const one of kept.value) {
        types.see(one.sample);
        for (const entry of one.sample) for (const key of Object.keys(entry)) keys.add(key);
        stores.push(storeOf(file, one, said.id));
        if (one.beside) left.push({ file, ...one.beside });
      }
  }
  refuseUnknown(keys, said);
  const alikeTypes = said.type === undefined && !types.areValues && types.areAlike ? types.names : [];
  const found = types.areValues || alikeTypes.length > 0 ? false : 'type';
  return {
    content: [...foldersOf([...folders]), ...stores],
    typeKey: said.type ?? found,
    alikeTypes,
    areAlone: all.length === new Set(stores.filter((store) => !('csv' in store)).flatMap(filesNamed)).size,
    left,
  };
}

/** A key that no entry has is a slip of the pen. @throws {Trouble} */
function refuseUnknown(keys: ReadonlySet<string>, said: SaidKeys): void {
  if (keys.size === 0) return;
  for (const name of ['id', 'type'] as const) {
    const key = said[name];
    if (key === undefined || key === false || keys.has(key)) continue;
    throw new Trouble('unusable-call', `--${name} ${key}: no entry has a key that is called so`, {
      mend: didYouMean(key, [...keys]) ?? `They have ${listSome([...keys], 8)}.`,
    });
  }
}

/** Folders of entries: those together that are called as types can be, each other one with the type that its name makes. */
function foldersOf(folders: readonly string[]): readonly StoreOptions[] {
  const others = folders.filter((folder) => !isName(folder));
  return [
    ...(others.length < folders.length ? [{ folder: contentFolder }] : []),
    ...others.flatMap((folder) => {
      const type = nameFrom(folder);
      return isName(type) ? [{ folder: `${contentFolder}/${folder}`, type }] : [];
    }),
  ];
}

/** More types than these in one place are values of a field. */
const mostTypes = 40;
/** So many entries of a type tell which keys it has. */
const telling = 10;
/** A key that so many of its entries have is one of a type. */
const usual = 0.9;

/** What stands under `type`, and the keys that stand beside each. */
class TypesSeen {
  readonly #types = new Map<string, { entries: number; readonly keys: Map<string, number> }>();
  /** Whether entries of several stand in one file: a file for each is what types are kept in. */
  #areMixed = false;

  /** @param entries some of one file. */
  see(entries: readonly JsonObject[]): void {
    for (const entry of entries) this.#see(entry);
    this.#areMixed ||= new Set(entries.map(({ type }) => type)).size > 1;
  }

  #see({ type, ...others }: JsonObject): void {
    if (typeof type !== 'string') return;
    const seen = this.#types.get(type) ?? { entries: 0, keys: new Map<string, number>() };
    this.#types.set(type, seen);
    seen.entries += 1;
    for (const [key, value] of Object.entries(others))
      if (value !== '' && value !== null) seen.keys.set(key, (seen.keys.get(key) ?? 0) + 1);
  }

  get names(): readonly string[] {
    return [...this.#types.keys()];
  }

  /** Whether no types are called so. */
  get areValues(): boolean {
    return this.#types.size > mostTypes || this.names.some((type) => !isName(type));
  }

  /** Whether no key belongs to some of several types: what tells these apart is a field like any other. */
  get areAlike(): boolean {
    const known = [...this.#types.values()].filter(({ entries }) => entries >= telling);
    const keys = new Set(known.flatMap((one) => [...one.keys.keys()]));
    const marks = (key: string): boolean => {
      const shares = known.map((one) => (one.keys.get(key) ?? 0) / one.entries);
      return shares.includes(0) && shares.some((share) => share >= usual);
    };
    return this.#areMixed && known.length > 1 && ![...keys].some(marks);
  }
}

interface Kept {
  readonly way: 'lines' | 'json' | 'csv';
  readonly isMap: boolean;
  /** The keys that lead to it in a file of JSON. */
  readonly at?: readonly string[];
  /** What else stands in that file, and is in no entry. */
  readonly beside?: Omit<Left, 'file'> | undefined;
  /** What stands between the cells of a table. */
  readonly delimiter?: string;
  /** What a table is written in, where that is not UTF-8. */
  readonly encoding?: Encoding | undefined;
  /** Some of its entries as they are stored. */
  readonly sample: readonly JsonObject[];
}

/** How a file keeps entries: each of its own, many, or none. */
function keptIn(
  root: string,
  file: string,
  encoding: Encoding | undefined,
): Outcome<readonly Kept[] | 'entry', string> {
  const isDeep = file.split('/').length > 2;
  if (/\.(?:ndjson|jsonl)(?:\.gz)?$/u.test(file)) return linesIn(root, file);
  if (/\.(?:csv|tsv)$/u.test(file)) return tableIn(path.join(root, file), encoding);
  if (file.endsWith('.json')) {
    const text = readText(path.join(root, file));
    if ('problem' in text) return { problem: `it ${saysOf(text.problem)}` };
    const data = parsed(text.value);
    if (data === undefined) return { problem: 'it is no JSON' };
    const kept = isDeep && !isList(data) ? [] : jsonIn(data);
    if (kept.length > 0) return { value: kept };
  }
  if (!endings.some((ending) => file.endsWith(ending))) return { problem: 'it is of no format that holds entries' };
  return isDeep ? { value: 'entry' } : { problem: 'it lies in no folder that would tell its type' };
}

/** The lists and maps that a file of JSON keeps entries in. */
function jsonIn(data: Json): readonly Kept[] {
  const collections = collectionsIn(data);
  const others = keysBeside(data, collections);
  const ways = collections.map(({ way }) => way.join('.'));
  const beside = { keys: others, because: `entries are in ${list(ways)}` };
  return collections.map(({ way, isMap, entries }, index) => ({
    way: 'json',
    at: way,
    isMap,
    sample: entries.slice(0, sampled),
    beside: index === 0 && others.length > 0 ? beside : undefined,
  }));
}

function linesIn(root: string, file: string): Outcome<readonly Kept[], string> {
  // A compressed file is read by its store; what its entries are called is not looked up before.
  if (file.endsWith('.gz')) return { value: [{ way: 'lines', isMap: false, sample: [] }] };
  const text = startOf(path.join(root, file));
  if ('problem' in text) return { problem: `it ${text.problem.says}` };
  const sample = text.value
    .split('\n', sampled)
    .map(parsed)
    .filter((one): one is JsonObject => isObject(one as Json));
  return sample.length === 0
    ? { problem: 'none of its lines is an object of JSON' }
    : { value: [{ way: 'lines', isMap: false, sample }] };
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
    return { value: bytes.toString('utf8', 0, fs.readSync(handle, bytes)) };
  } finally {
    fs.closeSync(handle);
  }
}

/** Why a file is not read; of one that is too large also what to do. */
const saysOf = ({ says, isTooLarge }: NotRead): string =>
  isTooLarge
    ? `${says}: let it be larger (--file-megabytes), or make lines of JSON of it (.ndjson), of any size`
    : says;

function tableIn(file: string, said: Encoding | undefined): Outcome<readonly Kept[], string> {
  const bytes = readBytes(file);
  if ('problem' in bytes) return { problem: `it ${saysOf(bytes.problem)}` };
  const plain = textIn(bytes.value, undefined);
  const encoding = 'problem' in plain ? said : undefined;
  const read = encoding ? textIn(bytes.value, encoding) : plain;
  if ('problem' in read) return { problem: `it ${read.problem.says}; say what it is in: --encoding windows-1252` };
  const text = read.value;
  const delimiter = delimiterIn(text, file);
  const rows = rowsOf(text, delimiter);
  if ('problem' in rows) return { problem: `a row ${rows.problem.says} (line ${rows.problem.line})` };
  const [head, ...others] = rows.value;
  if (!head || others.length === 0) return { problem: 'it has no rows below its first one, which names the columns' };
  const columns = head.cells.map((cell) => cell.text.trim());
  const value = valueAmong(columns);
  if (value !== undefined)
    return { problem: `its first row names no columns: “${value}” is a value; write their names above it` };
  const sample = others
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

/** What lists are called in exports that say nothing of what is in them. */
const wrappers = new Set(['data', 'content', 'entries', 'items', 'objects', 'records', 'results', 'rows', 'values']);

function storeOf(
  file: string,
  { way, at = [], isMap, delimiter, encoding, sample }: Kept,
  wanted: string | undefined,
): StoreOptions {
  const base = path.posix.basename(file).replace(/\..*$/u, '');
  const type = nameFrom(at.findLast((key) => !wrappers.has(key.toLowerCase())) ?? base);
  const where = at.length > 0 ? `${file} at ${at.join('.')}` : file;
  const key = isMap || sample.length === 0 ? 'id' : idKey({ file, where }, sample, wanted);
  const says = compact({ type: isName(type) ? type : undefined, keys: key === 'id' ? undefined : { id: key } });
  if (way === 'lines') return { lines: [file], ...says };
  if (way === 'json') return compact({ json: [file], at: at.length > 0 ? at.join('.') : undefined, ...says });
  // Where that stands between cells as well, a list has to be said to have it.
  const isListed =
    delimiter === ';' && sample.some((row) => Object.values(row).some((cell) => String(cell).includes(listSeparator)));
  return compact({ csv: [file], encoding, separator: isListed ? listSeparator : undefined, ...says });
}

/** What such a key is called in more words: `Artist ID`, `customer_no`. */
const endsAsId = (key: string): boolean => /[\s_-](?:id|key|code|nr|no)\.?$/iu.test(key) || /[a-z]I[Dd]$/u.test(key);

/** The key whose values tell the entries of a file apart. @throws {Trouble} where there is none. */
function idKey(
  { file, where }: { readonly file: string; readonly where: string },
  sample: readonly JsonObject[],
  wanted: string | undefined,
): string {
  const keys = [...new Set(sample.flatMap((one) => Object.keys(one)))];
  if (wanted !== undefined && keys.includes(wanted)) return wanted;
  const named = usualIds.filter((one) => keys.includes(one));
  // Keys that are numbers come first in JavaScript, wherever they stand.
  const words = keys.filter((one) => !/^\d+$/u.test(one));
  const found = [...named, ...words.filter(endsAsId), ...words, ...keys].find((one) => tellsApart(one, sample));
  if (found !== undefined) return found;
  const [key = words[0] ?? 'key'] = named;
  const values = sample.map((one) => one[key]);
  const twice = values.find((value, index) => value !== undefined && value !== '' && values.indexOf(value) < index);
  const because = twice === undefined ? '' : `; \`${key}\` is ${quote(twice, 30)} in several`;
  throw new Trouble(
    'no-identifier',
    `nothing tells the entries of ${where} apart: no key has another value in each${because}`,
    {
      mend: `Say which it is meant to be, and a check finds those that have the same: --id ${/\s/u.test(key) ? JSON.stringify(key) : key}`,
      where: { file },
    },
  );
}
