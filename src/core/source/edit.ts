import {
  at,
  changedAt,
  equal,
  isList,
  isObject,
  type Json,
  type JsonObject,
  type Path,
  renameKey,
  withoutKey,
} from '../plain/json.ts';
import { anySize } from '../plain/limits.ts';
import { relocatedIn } from '../plain/relocate.ts';
import { editJson } from './editJson.ts';
import { editOneLine } from './editOneLine.ts';
import type { Edit } from './editOperation.ts';
import { CannotEdit } from './editOperation.ts';
import { applyEdit } from './editYaml.ts';
import { readJson } from './json.ts';
import { movedByRewriting } from './moveByRewriting.ts';
import { movedLines } from './moveLines.ts';
import { oneLineOf } from './writeValue.ts';
import { readYaml } from './yaml.ts';

/**
 * Applies edits to a YAML (or, with `json`, a JSON) text by cutting and pasting source ranges, so that every byte that
 * an edit does not concern stays: comments, order, quoting, blank lines, line ends, a byte-order mark. After each
 * edit the text is read again and must have exactly the intended meaning.
 *
 * @param dataBefore what a JSON text was read as, where that was done before.
 * @throws {CannotEdit} where it would not, for example because the value is shared through an alias.
 */
export function editText(text: string, edits: readonly Edit[], format: 'yaml' | 'json', dataBefore?: Json): string {
  const mark = text.startsWith('\uFEFF') ? '\uFEFF' : '';
  const atOnce = format === 'json' ? editOneLine(text.slice(mark.length), edits, dataBefore) : undefined;
  return mark + (atOnce ?? editByPieces(text.slice(mark.length), edits, format));
}

/** The same, edit after edit, whatever the text looks like. */
export const editByPieces = (text: string, edits: readonly Edit[], format: 'yaml' | 'json'): string =>
  edits.reduce((current, edit) => editOnce(current, edit, format), text);

function editOnce(text: string, edit: Edit, format: 'yaml' | 'json'): string {
  if (edit.do === 'carry') return carried(text, edit, format);

  const intended = meaning(dataOf(text, format), edit);
  const eol = text.includes('\r\n') ? '\r\n' : '\n';
  const write = { text, format, eol, oneLine: format === 'json' ? oneLineOf(text) : undefined };
  const asJson = format === 'json' ? editJson({ ...write, strings: 'plain' }, edit) : undefined;
  if (asJson !== undefined && readsAs(asJson, intended, format)) return asJson;

  // Texts are written as plainly as they can be; where that would read as something else, in double quotes.
  for (const strings of ['plain', 'quoted'] as const) {
    const edited = applyEdit({ ...write, strings }, edit);
    if (readsAs(edited, intended, format)) return edited;
  }

  throw new CannotEdit(`the edit of ${inWords(edit)} would not read back as meant`);
}

/** Moves a part of the text as it is where it has lines to itself; else it is written anew. */
function carried(text: string, edit: Extract<Edit, { do: 'carry' }>, format: 'yaml' | 'json'): string {
  const data = dataOf(text, format);
  const intended = relocatedIn(data, edit.inside ?? [], edit.from, edit.to);
  const eol = text.includes('\r\n') ? '\r\n' : '\n';
  const lines = format === 'yaml' ? movedLines({ text, format, eol, strings: 'plain' }, edit) : undefined;
  if (lines !== undefined && readsAs(lines, intended, format)) return lines;

  return movedByRewriting(data, edit).reduce((current, edit) => {
    // Removed text may be inside text that was written anew, and is gone from there already.
    const isGone =
      edit.do === 'remove' && at(dataOf(current, format), [...(edit.inside ?? []), edit.key]) === undefined;
    if (isGone) return current;
    return editOnce(current, edit, format);
  }, text);
}

function readsAs(text: string, intended: JsonObject, format: 'yaml' | 'json'): boolean {
  try {
    return equal(dataOf(text, format), intended);
  } catch (error) {
    if (error instanceof CannotEdit) return false;
    throw error;
  }
}

function dataOf(text: string, format: 'yaml' | 'json'): JsonObject {
  const reading = format === 'json' ? readJson(text, anySize) : readYaml(text, anySize);
  if ('isJson' in reading && !reading.isJson && text.trim() !== '') throw new CannotEdit('the text is not JSON');
  if ('problem' in reading) throw new CannotEdit(`the text cannot be read: ${reading.problem.says}`);

  const { data } = reading.value;
  if (data === null) return {};
  if (!isObject(data)) throw new CannotEdit('the text is no mapping of keys to values');
  return data;
}

/** What the data are after an edit: the yardstick for the edited text. */
function meaning(data: JsonObject, edit: Edit): JsonObject {
  switch (edit.do) {
    case 'rename':
      return changedAt(data, edit.inside ?? [], (map) =>
        isObject(map) ? renameKey(map, edit.key, edit.to) : map,
      ) as JsonObject;
    case 'remove':
      return changedAt(data, edit.inside ?? [], (map) =>
        isObject(map) ? withoutKey(map, edit.key) : map,
      ) as JsonObject;
    case 'set':
      return setIn(data, edit.path, edit.value) as JsonObject;
    case 'insert':
      return setIn(data, [...edit.path, edit.key], edit.value) as JsonObject;
    case 'carry':
      return relocatedIn(data, edit.inside ?? [], edit.from, edit.to);
    case 'append': {
      const old = at(data, edit.path);
      return setIn(data, edit.path, [...(isList(old) ? old : []), ...edit.items]) as JsonObject;
    }
  }
}

function setIn(data: Json, path: Path, value: Json): Json {
  const [part, ...rest] = path;
  if (part === undefined) return value;
  if (isList(data)) return data.map((item, index) => (index === part ? setIn(item, rest, value) : item));

  const object = isObject(data) ? data : {};

  return Object.fromEntries([
    ...Object.entries(object).filter(([key]) => key !== part),
    [String(part), setIn(at(object, [part]) ?? null, rest, value)],
  ]);
}

function inWords(edit: Edit): string {
  if (edit.do === 'carry') return `\`${edit.from.join('/')}\``;
  return `\`${('path' in edit ? edit.path : [...(edit.inside ?? []), edit.key]).join('/')}\``;
}
