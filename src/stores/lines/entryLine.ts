import type { Entry } from '../../core/entry/entry.ts';
import type { Operation } from '../../core/migration/operation.ts';
import { isObject, ownValue, type Path } from '../../core/plain/json.ts';
import type { Limits } from '../../core/plain/limits.ts';
import type { Outcome } from '../../core/plain/outcome.ts';
import { editText } from '../../core/source/edit.ts';
import { isOneLine } from '../../core/source/editOneLine.ts';
import { CannotEdit, type Edit } from '../../core/source/editOperation.ts';
import { readJson } from '../../core/source/json.ts';
import type { Source, Span } from '../../core/source/yaml.ts';
import { clashing, type KeyNames } from '../keys.ts';
import type { NewEntry, Problem } from '../store.ts';

/** How an entry is written. */
interface Written {
  readonly text: string;
  /** A byte-order mark, which may be at the start of a file and stays where it is. */
  readonly mark: string;
  readonly keys: KeyNames;
  /** The type of entries there that do not say their own. */
  readonly usual: string | undefined;
  /** Whether it may be on several lines. */
  readonly mayBreak: boolean;
}

/** A line, or a part of a file, that was read as an entry. */
export class EntryLine {
  readonly entry: Entry;
  readonly #text: string;
  readonly #mark: string;
  readonly #source: Source;
  readonly #keys: KeyNames;
  readonly #usual: string | undefined;
  readonly #mayBreak: boolean;

  constructor(entry: Entry, source: Source, { text, mark, keys, usual, mayBreak }: Written) {
    this.entry = entry;
    this.#source = source;
    this.#text = text;
    this.#mark = mark;
    this.#keys = keys;
    this.#usual = usual;
    this.#mayBreak = mayBreak;
  }

  /** Where a value is in the line, which is treated as the first one. */
  locate(path: Path): Span {
    return this.#source.span(this.#keys.path(path));
  }

  /** Whether it is known without trying that some operations can be done to it: it is written anew from their results. */
  canBeRewritten(operations: readonly Operation[]): boolean {
    const { data } = this.#source;
    return operations.every((operation) => operation.do in inItsPlace) && isObject(data) && isOneLine(this.#text, data);
  }

  /** The line after some operations; `undefined` where nothing is left of it. */
  rewrite(operations: readonly Operation[]): string | undefined {
    const rewritten = rewrite(this.#text, this.#source, { keys: this.#keys, usual: this.#usual }, operations);
    if (rewritten !== undefined && !this.#mayBreak && /[\r\n]/u.test(rewritten))
      throw new CannotEdit('the entry would not stay on one line');
    if (rewritten === undefined) return undefined;
    return this.#mark + rewritten;
  }
}

/** The operations on existing keys and values of an entry. */
const inItsPlace = { set: true, rename: true, remove: true };

/** Facts about an entry beside its text. */
interface LineContext {
  /** The type of an entry that does not say its own. */
  readonly type: string | undefined;
  /** The identifier of an entry that does not say its own. */
  readonly id?: string | undefined;
  readonly limits: Limits;
  /** Whether it may be on several lines. */
  readonly mayBreak?: boolean;
}

/** Reads an entry that is an object of JSON: a line, or a part of a larger text. */
export function readEntryLine(line: string, keys: KeyNames, around: LineContext): Outcome<EntryLine, Problem> {
  const mark = line.startsWith('\uFEFF') ? '\uFEFF' : '';
  const text = line.slice(mark.length);
  const reading = readJson(text, around.limits);
  if ('problem' in reading) {
    const { says: message, mend, line, column } = reading.problem;
    return { problem: { says: `cannot be read: ${message}`, mend, line, column } };
  }

  const { value: source, isJson } = reading;
  if (!isJson || !isObject(source.data))
    return {
      problem: {
        says: 'is no object of JSON',
        mend: 'Write each entry as an object: { "id": …, … }',
        line: 1,
        column: 1,
      },
    };

  const clash = keys.clashIn(source.data);
  if (clash !== undefined) return { problem: { ...clashing(clash), ...source.locateKey([clash]) } };

  const idKey = keys.of('id') ?? 'id';
  const id = ownValue(source.data, idKey) ?? around.id;
  if (typeof id !== 'string' && typeof id !== 'number')
    return {
      problem: {
        says: `has no identifier: no text and no number stands at \`${idKey}\``,
        mend: 'Give it one, or say in lumbrik.yaml which key holds it: `keys: { id: … }`',
        ...source.locate([idKey]),
      },
    };

  const typeKey = keys.typeKey(around.type);
  const type = typeKey === undefined ? undefined : ownValue(source.data, typeKey);
  const values = keys.usual(source.data);
  const entry: Entry = {
    type: typeof type === 'string' ? type : (around.type ?? ''),
    id: String(id),
    values,
    ...keys.stated,
  };

  const written = { text, mark, keys, usual: around.type, mayBreak: around.mayBreak === true };

  return { value: new EntryLine(entry, source, written) };
}

function rewrite(
  text: string,
  { data }: Source,
  { keys, usual }: Pick<Written, 'keys' | 'usual'>,
  operations: readonly Operation[],
): string | undefined {
  const edits: Edit[] = [];
  for (const operation of operations)
    switch (operation.do) {
      case 'delete':
        return undefined;
      case 'prose':
        break; // A line has none.
      case 'move':
        edits.push({
          do: 'set',
          path: [keys.typeKeyToWrite(usual)],
          value: operation.type,
          after: [keys.of('id') ?? 'id'],
        });
        break;
      default:
        edits.push(keys.operation(operation));
    }

  const edited = edits.length === 0 || data === null ? text : editText(text, edits, 'json', data);

  return edited;
}

/** A new entry as a line. */
export function lineOf({ type, id, values }: NewEntry, keys: KeyNames, usualType: string | undefined): string {
  const typeKeys = type === usualType ? {} : { [keys.typeKeyToWrite(usualType)]: type };
  return JSON.stringify({ [keys.of('id') ?? 'id']: id, ...typeKeys, ...keys.stored(values) });
}
