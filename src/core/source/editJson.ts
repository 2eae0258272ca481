import { findNodeAtLocation, type Node, parseTree } from 'jsonc-parser';
import { isList, isObject, type Json, type Path } from '../plain/json.ts';
import type { Edit } from './editOperation.ts';
import { flowText, indentAt, jsonObject, jsonPair, lineStart, type Writing } from './writeValue.ts';

/** The edits that change entries. Those that change model files are left to the editor of YAML, of which JSON is a part. */
type EntryEdit = Extract<Edit, { do: 'rename' | 'remove' | 'set' }>;

/**
 * Edits a text of JSON by cutting and pasting source ranges.
 * @returns the edited text; `undefined` where that is left to the editor of YAML.
 */
export function editJson(write: Writing, edit: Edit): string | undefined {
  if (edit.do === 'insert' || edit.do === 'append' || edit.do === 'carry') return undefined;
  const root = parseTree(write.text, [], { disallowComments: true });
  if (root?.type !== 'object') return undefined;
  return edited(write, root, edit);
}

function edited(write: Writing, root: Node, edit: EntryEdit): string | undefined {
  switch (edit.do) {
    case 'rename': {
      const [name] = pairAt(root, [...(edit.inside ?? []), edit.key])?.children ?? [];
      return name && splice(write.text, name.offset, endOf(name), JSON.stringify(edit.to));
    }
    case 'remove':
      return removed(write.text, pairAt(root, [...(edit.inside ?? []), edit.key]));
    case 'set': {
      const old = nodeAt(root, edit.path);
      if (old) return replaced(write, old, edit.value);
      return inserted(write, root, edit);
    }
  }
}

const nodeAt = (root: Node, path: Path): Node | undefined => findNodeAtLocation(root, [...path]);

/** The key and the value at a path; `undefined` where that leads to an item or to nothing. */
function pairAt(root: Node, path: Path): Node | undefined {
  const pair = nodeAt(root, path)?.parent;
  if (pair?.type === 'property') return pair;
  return undefined;
}

const endOf = ({ offset, length }: Node): number => offset + length;
const splice = (text: string, start: number, end: number, replacement: string): string =>
  text.slice(0, start) + replacement + text.slice(end);

function replaced(write: Writing, old: Node, value: Json): string {
  const isPlain = !isObject(value) && !isList(value);
  const fresh = isPlain ? JSON.stringify(value) : flowText(value, write, indentAt(write.text, startOfPair(old)));
  return splice(write.text, old.offset, endOf(old), fresh);
}

const startOfPair = (value: Node): number => (value.parent?.type === 'property' ? value.parent : value).offset;

/** A new key, beside the first of some keys that is there, or at the end. */
function inserted(write: Writing, root: Node, { path, value, after = [] }: Extract<Edit, { do: 'set' }>) {
  const key = path.at(-1);
  const holder = nodeAt(root, path.slice(0, -1));
  if (typeof key !== 'string' || holder?.type !== 'object') return undefined;

  const { text, eol, oneLine } = write;
  const pairs = holder.children ?? [];
  const last = pairs.at(-1);
  if (!last) return splice(text, holder.offset, endOf(holder), jsonObject(key, value, write));

  const anchor =
    after.map((key) => pairs.find((pair) => pair.children?.[0]?.value === key)).find((pair) => pair) ?? last;
  const indent = indentAt(text, anchor.offset);
  const isOnOwnLine = text.slice(lineStart(text, anchor.offset), anchor.offset).trim() === '';
  const between = oneLine?.gap ?? (isOnOwnLine ? `${eol}${indent}` : ' ');

  return splice(text, endOf(anchor), endOf(anchor), `,${between}${jsonPair(key, value, write, indent)}`);
}

function removed(text: string, pair: Node | undefined): string | undefined {
  const pairs = pair?.parent?.children ?? [];
  if (!pair) return undefined;
  const index = pairs.indexOf(pair);
  const [previous, next] = [pairs[index - 1], pairs[index + 1]];
  if (previous) return splice(text, endOf(previous), endOf(pair), '');
  return splice(text, pair.offset, next ? next.offset : endOf(pair), '');
}
