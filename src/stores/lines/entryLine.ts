import { builtInKeys } from '../../core/definition/builtIn.ts';
import type { Entry } from '../../core/entry/entry.ts';
import type { Operation } from '../../core/migration/operation.ts';
import { compact, isObject, type JsonObject, own, type Path } from '../../core/plain/json.ts';
import { editText } from '../../core/source/edit.ts';
import { CannotEdit, type Edit } from '../../core/source/editOperation.ts';
import { readJson } from '../../core/source/json.ts';
import type { Source, Span } from '../../core/source/yaml.ts';
import type { NewEntry, Problem } from '../store.ts';

/** Which keys of a line hold what every entry has. */
export interface LineKeys {
  readonly id: string;
  readonly type: string;
  /** Absent where entries say none. */
  readonly status?: string;
}

/** Those of the workspace. */
export function usualKeys(): LineKeys {
  const { id = 'id', type = 'type', status } = builtInKeys();
  return compact({ id, type, status });
}

/** A line that was read as an entry. */
export interface EntryLine {
  readonly entry: Entry;
  /** Where a value stands in the line, which is taken for the first one. */
  readonly locate: (path: Path) => Span;
  /** The line after some operations; `undefined` where nothing is left of it. */
  readonly rewrite: (operations: readonly Operation[]) => string | undefined;
}

/**
 * Reads a line: an object of JSON.
 * @param usualType the type of an entry that does not say its own.
 */
export function readEntryLine(line: string, keys: LineKeys, usualType: string | undefined): EntryLine | Problem {
  // A byte-order mark may stand at the start of a file; it stays where it is.
  const mark = line.startsWith('\uFEFF') ? '\uFEFF' : '';
  const text = line.slice(mark.length);
  const reading = readJson(text);
  if ('problem' in reading) {
    const { says, mend, line, column } = reading.problem;
    return { says: `cannot be read: ${says}`, mend, line, column };
  }
  const { value: source, isJson } = reading;
  if (!isJson || !isObject(source.data))
    return { says: 'is no object of JSON', mend: 'Write one entry in each line: { "id": …, … }', line: 1, column: 1 };
  const clash = clashingKey(source.data, keys);
  if (clash !== undefined)
    return {
      says: `has the key \`${clash}\` beside the one that lumbrik.yaml names for it`,
      mend: 'Keep one of the two, or give the other key another name.',
      ...source.locateKey([clash]),
    };
  const values = inBuiltInNames(source.data, keys);
  const usual = usualKeys();
  const id = own(values, usual.id);
  if (typeof id !== 'string' && typeof id !== 'number')
    return {
      says: `has no identifier: no text and no number stands at \`${keys.id}\``,
      mend: 'Give it one, or say in lumbrik.yaml which key holds it: `keys: { id: … }`',
      ...source.locate([keys.id]),
    };

  const type = own(values, usual.type);
  const entry: Entry = { type: typeof type === 'string' ? type : (usualType ?? ''), id: String(id), values };

  return {
    entry,
    locate: (path) => source.span(inLineNames(path, keys)),
    rewrite: (operations) => {
      const rewritten = rewrite(text, source, keys, operations);
      return rewritten === undefined ? undefined : mark + rewritten;
    },
  };
}

/** A key that has the name of something which another key holds. */
const clashingKey = (data: JsonObject, keys: LineKeys): string | undefined =>
  pairsOf(keys).find(
    ([usual, key]) => usual !== key && Object.hasOwn(data, usual) && !Object.values(keys).includes(usual),
  )?.[0];

/** The key that each of these facts has in the workspace, with the one that it has in the line. */
function pairsOf(keys: LineKeys): readonly (readonly [usual: string, key: string])[] {
  const usual = usualKeys();
  return (['id', 'type', 'status'] as const).flatMap((name) => {
    const [here, there] = [usual[name], keys[name]];
    return here === undefined || there === undefined ? [] : [[here, there] as const];
  });
}

/** The keys of a line under the names that these facts have everywhere. */
function inBuiltInNames(data: JsonObject, keys: LineKeys): JsonObject {
  const names = new Map(pairsOf(keys).map(([usual, key]) => [key, usual]));
  return Object.fromEntries(Object.entries(data).map(([key, value]) => [names.get(key) ?? key, value]));
}

const inLineNames = ([first, ...rest]: Path, keys: LineKeys): Path =>
  first === undefined ? [] : [nameInLine(String(first), keys), ...rest];

const nameInLine = (name: string, keys: LineKeys): string =>
  pairsOf(keys).find(([usual]) => usual === name)?.[1] ?? name;

function rewrite(text: string, { data }: Source, keys: LineKeys, operations: readonly Operation[]): string | undefined {
  const edits: Edit[] = [];
  for (const operation of operations)
    switch (operation.do) {
      case 'delete':
        return undefined;
      case 'prose':
        break; // A line has none.
      case 'move':
        edits.push({ do: 'set', path: [keys.type], value: operation.type, after: [keys.id] });
        break;
      case 'set':
        edits.push({ ...operation, path: inLineNames(operation.path, keys) });
        break;
      case 'rename':
      case 'remove':
        edits.push({ ...operation, inside: inLineNames(operation.inside, keys) });
        break;
    }
  const edited = edits.length === 0 || data === null ? text : editText(text, edits, 'json');
  if (/[\r\n]/u.test(edited)) throw new CannotEdit('the entry would not stay on one line');
  return edited;
}

/** A new entry as a line. */
export function lineOf({ type, id, values }: NewEntry, keys: LineKeys, usualType: string | undefined): string {
  const named = Object.entries(values).map(([key, value]) => [nameInLine(key, keys), value] as const);
  const said = type === usualType ? [] : [[keys.type, type] as const];
  return JSON.stringify(Object.fromEntries([[keys.id, id] as const, ...said, ...named]));
}
