import path from 'node:path';
import { type Entry, ownFactKeys } from '../../core/entry/entry.ts';
import type { Operation } from '../../core/migration/operation.ts';
import { isObject, type Json, type JsonObject, ownValue, type Path } from '../../core/plain/json.ts';
import type { Limits } from '../../core/plain/limits.ts';
import type { Outcome } from '../../core/plain/outcome.ts';
import { editText } from '../../core/source/edit.ts';
import type { Edit } from '../../core/source/editOperation.ts';
import { type FrontMatter, proseOf, splitFrontMatter, withProse } from '../../core/source/frontMatter.ts';
import { type JsonReading, readJson } from '../../core/source/json.ts';
import { type Reading, readYaml, type Source, type Span, textStart } from '../../core/source/yaml.ts';
import { clashing, type KeyNames } from '../keys.ts';
import type { Problem } from '../store.ts';
import { idOfFileName } from './fileName.ts';

/** The formats that an entry may be written in, by the ending of its file. */
export const endings = ['.md', '.yaml', '.yml', '.json'] as const;

/** An entry's file, read. */
export interface EntryFile {
  readonly entry: Entry;
  readonly locate: (path: Path, body?: string) => Span;
  readonly rewrite: (operations: readonly Operation[]) => { readonly file: string; readonly text: string } | undefined;
}

/**
 * Where a file lies: its path below the workspace, and the folder below which types have folders, both with `/`; the type of
 * those that do not say their own, where it has no folders for types; and what the keys of that folder are called.
 */
export interface Lies {
  readonly file: string;
  readonly folder: string;
  readonly type: string | undefined;
  readonly keys: KeyNames;
  readonly limits: Limits;
}

/** Reads the text of an entry's file. */
export const readEntryFile = (lies: Lies, text: string): Outcome<EntryFile, Problem> => {
  if (lies.file.endsWith('.md')) return readMarkdown(lies, text);
  return readData(lies, text);
};

/* ── Markdown with front matter ──────────────────────────────────────────────────────────────────────────────── */

function readMarkdown(lies: Lies, text: string): Outcome<EntryFile, Problem> {
  const parts = splitFrontMatter(text);
  if (!parts && /^\uFEFF?---[ \t]*\r?$/mu.test(text.split('\n', 1)[0] ?? ''))
    return {
      problem: {
        says: 'opens its front matter with `---` and never closes it',
        mend: 'Add a line `---` after the last key.',
        line: 1,
        column: 1,
      },
    };

  const { opening, yaml, closing, body: below } = parts ?? { opening: '', yaml: '', closing: '', body: text };
  const read = readValues(yaml, lies);
  if ('problem' in read) return { problem: { ...read.problem, line: read.problem.line + (parts ? 1 : 0) } };

  const { values, source } = read.value;
  const prose = proseOf(below);
  const entry = entryOf(lies, values, prose);
  const linesAbove = (opening + yaml + closing).split('\n').length;
  const blankLines = (/^(?:[ \t]*\r?\n)*/u.exec(below)?.[0] ?? '').split('\n').length - 1;

  const file: EntryFile = {
    entry,
    locate: (path, body) => {
      const [key] = path;
      if (prose !== undefined && key === body && key !== undefined) return proseSpan(prose, linesAbove + blankLines);
      const { start, end } = source?.span(lies.keys.path(path)) ?? textStart;
      return { start: { ...start, line: start.line + 1 }, end: { ...end, line: end.line + 1 } };
    },
    rewrite: (operations) =>
      rewrite(lies, entry, operations, (edits, newProse) =>
        writeMarkdown({ opening, yaml, closing, body: below }, edits, newProse),
      ),
  };

  return { value: file };
}

function proseSpan(prose: string, line: number): Span {
  const lines = prose.split('\n');
  return {
    start: { line, column: 1 },
    end: { line: line + lines.length - 1, column: (lines.at(-1)?.length ?? 0) + 1 },
  };
}

function writeMarkdown(
  { opening, yaml, closing, body }: FrontMatter,
  edits: readonly Edit[],
  prose: { readonly is: string | undefined } | undefined,
): string {
  const front = edits.length > 0 ? editText(yaml, edits, 'yaml') : yaml;
  const text = prose ? withProse(body, prose.is) : body;
  if (opening === '' && front !== '') return `---\n${front}---\n\n${text}`;
  return opening + front + closing + text;
}

/* ── YAML and JSON ───────────────────────────────────────────────────────────────────────────────────────────── */

function readData(lies: Lies, text: string): Outcome<EntryFile, Problem> {
  const { file } = lies;
  const format = file.endsWith('.json') ? 'json' : 'yaml';
  const plain = text.replace(/^\uFEFF/u, '');
  if (plain.trim() === '')
    return { problem: { says: 'is empty', mend: 'Write the entry, or delete the file.', line: 1, column: 1 } };

  const read = readValues(plain, lies, format === 'json' ? readJson : readYaml);
  if ('problem' in read) return read;

  const { values, source, isJson } = read.value;
  if (isJson === false) return { problem: problemInJson(plain) };

  const entry = entryOf(lies, values, undefined);

  return {
    value: {
      entry,
      locate: (path) => source?.span(lies.keys.path(path)) ?? textStart,
      rewrite: (operations) => rewrite(lies, entry, operations, (edits) => neverBlank(editText(text, edits, format))),
    },
  };
}

/** An entry without a value is one all the same; a file without a character would be none. */
const neverBlank = (text: string): string => {
  if (text.replace(/^\uFEFF/u, '').trim() !== '') return text;
  return `${text}{}\n`;
};

/** JSON (RFC 8259) is stricter than YAML, which is what places and edits are worked out with. */
function problemInJson(text: string): Problem {
  const lines = text.slice(0, offsetOfError(text)).split('\n');
  return {
    says: 'is not JSON',
    mend: 'Correct it here: keys and texts in double quotes, no comma after the last item, no comments.',
    line: lines.length,
    column: (lines.at(-1)?.length ?? 0) + 1,
  };
}

function offsetOfError(text: string): number {
  try {
    JSON.parse(text);
    return 0;
  } catch (error) {
    return Number(/position (\d+)/u.exec(String(error))?.[1] ?? 0);
  }
}

/* ── shared ──────────────────────────────────────────────────────────────────────────────────────────────────── */

function readValues(
  text: string,
  { keys, limits }: Lies,
  reader: (text: string, limits: Limits) => Reading | JsonReading = readYaml,
): Outcome<{ readonly values: JsonObject; readonly source?: Source; readonly isJson?: boolean }, Problem> {
  const reading = reader(text, limits);
  if ('problem' in reading) {
    const { says: message, mend, line, column } = reading.problem;
    return { problem: { says: `cannot be read: ${message}`, mend, line, column } };
  }

  const { value: source } = reading;
  if (source.data === null) return { value: { values: {} } };
  if (!isObject(source.data))
    return { problem: { says: 'holds no keys', mend: 'Write each value as `field: value`.', line: 1, column: 1 } };

  const clash = keys.clashIn(source.data);
  if (clash !== undefined) return { problem: { ...clashing(clash), ...source.locateKey([clash]) } };

  const isJson = 'isJson' in reading ? { isJson: reading.isJson } : {};

  return { value: { values: keys.usual(source.data), source, ...isJson } };
}

/**
 * `content/lighthouse/skerry-point.md` is the entry skerry-point of the type lighthouse, unless it, or the settings of the
 * folder, says otherwise.
 */
function entryOf(
  { file, folder: above, type: usual, keys: { stated } }: Lies,
  values: JsonObject,
  prose: string | undefined,
): Entry {
  const [folder = '', ...rest] = file.slice(above.length + 1).split('/');
  const factKeys = ownFactKeys(stated);
  const valueUnder = (key: string | undefined): Json | undefined =>
    key === undefined ? undefined : ownValue(values, key);
  const [type, id] = [valueUnder(factKeys.type), valueUnder(factKeys.id)];
  const base = idOfFileName(path.posix.basename(file, path.posix.extname(file)));
  const typeOfFolder = usual ?? (rest.length > 0 ? folder : '');

  return {
    type: typeof type === 'string' ? type : typeOfFolder,
    id: typeof id === 'string' || typeof id === 'number' ? String(id) : base,
    values,
    ...stated,
    ...(prose === undefined ? {} : { prose }),
  };
}

function rewrite(
  { file, folder, type: usual, keys }: Lies,
  entry: Entry,
  operations: readonly Operation[],
  write: (edits: readonly Edit[], prose: { readonly is: string | undefined } | undefined) => string,
): { readonly file: string; readonly text: string } | undefined {
  const edits: Edit[] = [];
  let prose: { readonly is: string | undefined } | undefined;
  const { type: typeKey } = ownFactKeys(entry);
  let place = file;

  for (const operation of operations) {
    switch (operation.do) {
      case 'delete':
        return undefined;
      case 'prose':
        prose = { is: operation.value };
        break;
      case 'move':
        if (usual === undefined) place = inFolderOf(operation.type, place, folder);
        if (usual !== undefined || (typeKey !== undefined && Object.hasOwn(entry.values, typeKey)))
          edits.push({ do: 'set', path: [keys.typeKeyToWrite(usual)], value: operation.type });
        break;
      default:
        edits.push(keys.operation(operation));
    }
  }

  return { file: place, text: write(edits, prose) };
}

/** The same file in the folder of another type. */
function inFolderOf(type: string, file: string, above: string): string {
  const [folder = '', ...rest] = file.slice(above.length + 1).split('/');
  if (rest.length > 0) return [above, type, ...rest].join('/');
  return [above, folder].join('/');
}
