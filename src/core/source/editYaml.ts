import { isCollection, isMap, isScalar, isSeq, type Node, type YAMLSeq } from 'yaml';
import { isList, isObject, type Json, type Path } from '../plain/json.ts';
import { CannotEdit, type Edit } from './editOperation.ts';
import {
  blockText,
  columnOf,
  flowText,
  freshText,
  indentAt,
  inStyleOf,
  jsonObject,
  lineStart,
  scalarText,
  stringifyKey,
  type Writing,
} from './writeValue.ts';
import { parse } from './yaml.ts';
import {
  type Entry,
  endOfLine,
  endOfPair,
  findPair,
  inFlow,
  isFlowScalar,
  type Mapping,
  mapOf,
  mappingAt,
  nodeAt,
  pairOf,
  rangeOf,
  splice,
} from './yamlNodes.ts';

/** Applies one edit to a text of YAML, by cutting and pasting source ranges. @throws {CannotEdit} */
export function applyEdit(write: Writing, edit: Edit): string {
  const { contents } = parse(write.text).document;
  const map = contents === null || (isScalar(contents) && contents.value === null) ? undefined : contents;
  if (map !== undefined && !isMap(map)) throw new CannotEdit('the text is no mapping of keys to values');
  switch (edit.do) {
    case 'rename':
      return renamed(write, pairOf(mappingAt(map, edit.inside), edit.key), edit.to);
    case 'remove': {
      const holder = mappingAt(map, edit.inside);
      return removed(write, mapOf(holder), pairOf(holder, edit.key));
    }
    case 'set':
      return set(write, map, edit);
    case 'insert':
      return insertedDeep(write, map, edit);
    case 'carry':
      throw new CannotEdit('lines are not carried one by one');
    case 'append':
      return appended(write, map, edit.path, edit.items);
  }
}

function renamed(write: Writing, pair: Entry, to: string): string {
  const [start, end] = rangeOf(pair.key);
  return splice(write.text, start, end, scalarText(to, pair.key, write, true));
}

/* ── setting ─────────────────────────────────────────────────────────────────────────────────────────────────── */

function set(write: Writing, map: Mapping | undefined, edit: Extract<Edit, { do: 'set' }>): string {
  const { path, value, after } = edit;
  const [key, ...rest] = path;
  if (typeof key !== 'string') throw new CannotEdit('only keys of a mapping can be set');

  const pair = findPair(map, key);
  if (!pair) {
    if (rest.length > 0) throw new CannotEdit(`there is no key \`${key}\``);
    return inserted(write, map, { key, value, after });
  }

  const last = path.at(-1);
  const holder = rest.length > 0 && typeof last === 'string' ? nodeAt(map, path.slice(0, -1)) : undefined;
  if (isMap(holder) && !findPair(holder as Mapping, String(last)))
    return inserted(write, holder as Mapping, { key: String(last), value, after });
  return replaced(write, mapOf(map), pair, { rest, value });
}

/** Goes down to the smallest part that has to change and replaces that; the whole value where parts were added. */
function replaced(
  write: Writing,
  map: Mapping,
  pair: Entry,
  { rest, value }: { readonly rest: Path; readonly value: Json },
): string {
  let container: Mapping = map;
  let owner: Entry = pair;
  let node: Node | null = pair.value;

  for (const part of rest) {
    if (isSeq(node)) node = (node.items[Number(part)] as Node | undefined) ?? null;
    else if (isMap(node)) {
      container = node as Mapping;
      owner = pairOf(container, String(part));
      node = owner.value;
    } else node = null;

    if (node === null) throw new CannotEdit(`the path ${rest.join('/')} leads nowhere`);
  }

  if (
    isFlowScalar(node) &&
    !isObject(value) &&
    !isList(value) &&
    !(typeof value === 'string' && value.includes('\n'))
  ) {
    const [start, end] = rangeOf(node);
    return splice(write.text, start, end, scalarText(value, node, write, inFlow(write.text, container)));
  }
  if (rest.length > 0 && node !== owner.value) {
    const [start, end] = rangeOfItem(write.text, node);
    const isInLines = write.format === 'yaml' && write.strings === 'plain' && isAloneOnLine(write.text, start, end);
    const fresh = isInLines ? freshText(value, columnOf(write.text, start), write).trimStart() : undefined;
    return splice(write.text, start, end, fresh ?? flowText(value, write, ''));
  }

  return replacedPair(write, container, owner, value);
}

/** Where an item of a list stands, without the line break behind one that is in lines. @throws {CannotEdit} */
function rangeOfItem(text: string, node: Node | null): readonly [start: number, end: number] {
  if (!node) throw new CannotEdit('one item of a list is no value');
  const [start, end] = rangeOf(node);
  return [start, start + text.slice(start, end).trimEnd().length];
}

/** Whether an item of a list is on its line with nothing but its dash before it and nothing after it. */
const isAloneOnLine = (text: string, start: number, end: number): boolean =>
  /^[ \t]*-[ \t]+$/u.test(text.slice(lineStart(text, start), start)) && /^[ \t]*(?:\r?\n|$)/u.test(text.slice(end));

function replacedPair(write: Writing, map: Mapping, pair: Entry, value: Json): string {
  const { text } = write;
  const [keyStart, keyEnd] = rangeOf(pair.key);
  if (write.format === 'json' || inFlow(text, map)) {
    if (!pair.value) throw new CannotEdit('a key without a value stands in brackets');
    const [start, end] = rangeOf(pair.value);
    return splice(text, start, end, flowText(value, write, indentAt(text, keyStart)));
  }

  const old: Node | null = pair.value;
  if (isCollection(old) && old.flow === true && (isList(value) || isObject(value))) {
    const [start, valueEnd] = rangeOf(old);
    return splice(text, start, valueEnd, flowText(value, write, '', text[start + 1] === ' '));
  }

  const end = pair.value ? Math.max(keyEnd + 1, rangeOf(pair.value)[1]) : text.indexOf(':', keyEnd) + 1;
  const styled = inStyleOf(pair.value, text, value);
  const wide = { ...write, lineWidth: styled.width };
  const lines = blockText(text.slice(keyStart, keyEnd), styled.value, columnOf(text, keyStart), wide);
  const endsLine = text[end - 1] === '\n';

  return splice(text, keyStart, end, endsLine ? lines + write.eol : lines);
}

/* ── adding and removing keys of the outermost mapping ───────────────────────────────────────────────────────── */

/** A key that is new, and those after which it is placed: the first that is there. */
interface NewKey {
  readonly key: string;
  readonly value: Json;
  readonly after?: readonly string[] | undefined;
}

function inserted(write: Writing, map: Mapping | undefined, { key, value, after = [] }: NewKey): string {
  const { text, eol } = write;
  const last = map?.items.at(-1);
  if (!map || !last) return insertedFirst(write, map, key, value);

  const anchor = after.map((name) => findPair(map, name)).find((pair) => pair !== undefined) ?? last;
  if (inFlow(text, map)) {
    const [start] = rangeOf(anchor.key);
    const end = rangeOf(anchor.value ?? anchor.key)[1];
    const ownLine = text.slice(lineStart(text, start), start).trim() === '';
    const between = ownLine ? `${eol}${indentAt(text, start)}` : ' ';
    const name = scalarText(key, anchor.key, write, true);
    return splice(text, end, end, `,${between}${name}: ${flowText(value, write, indentAt(text, start))}`);
  }

  const end = endOfPair(text, anchor);
  const lines = blockText(stringifyKey(key), value, columnOf(text, rangeOf(anchor.key)[0]), write);
  const before = end > 0 && text[end - 1] !== '\n' ? eol : '';
  const indent = ' '.repeat(columnOf(text, rangeOf(anchor.key)[0]));

  return splice(text, end, end, `${before}${indent}${lines}${eol}`);
}

function insertedFirst(write: Writing, map: Mapping | undefined, key: string, value: Json): string {
  const { text, eol, format } = write;
  if (!map)
    return `${text === '' || text.endsWith('\n') ? text : text + eol}${blockText(stringifyKey(key), value, 0, write)}${eol}`;

  const [start, end] = rangeOf(map);
  const group =
    format === 'json' ? jsonObject(key, value, write) : `{ ${stringifyKey(key)}: ${flowText(value, write, '  ')} }`;
  return splice(text, start, end, group);
}

function removed(write: Writing, map: Mapping, pair: Entry): string {
  const { text } = write;
  if (inFlow(text, map)) return removedFromFlow(text, map, pair);

  const [keyStart] = rangeOf(pair.key);
  const [start, end] = [lineStart(text, keyStart), endOfPair(text, pair)];
  if (text.slice(start, keyStart).trim() === '') return splice(text, start, end, '');
  // The first key of an item of a list stands behind its hyphen: the next key takes its place.
  if (map.items.length === 1) return splice(text, keyStart, end, `{}${write.eol}`);

  const next = /[^ \t\r\n]/u.exec(text.slice(end))?.index ?? 0;
  return splice(text, keyStart, end + next, '');
}

function removedFromFlow(text: string, map: Mapping, pair: Entry): string {
  const index = map.items.indexOf(pair);
  const previous = map.items[index - 1];
  const next = map.items[index + 1];
  const end = rangeOf(pair.value ?? pair.key)[1];
  if (previous) return splice(text, rangeOf(previous.value ?? previous.key)[1], end, '');
  if (next) return splice(text, rangeOf(pair.key)[0], rangeOf(next.key)[0], '');
  return splice(text, rangeOf(pair.key)[0], end, '');
}

/** A new key of a mapping at a path. */
interface DeepKey extends NewKey {
  readonly path: Path;
}

function insertedDeep(write: Writing, map: Mapping | undefined, { path, key, value }: DeepKey): string {
  const inner = path.length === 0 ? map : nodeAt(map, path);
  const [outermost] = path;
  if (inner === undefined && typeof outermost === 'string' && path.length === 1)
    return written(write, map, outermost, { [key]: value });
  if (!isMap(inner)) throw new CannotEdit(`\`${path.join('/')}\` is no group of keys`);

  const into = inner as Mapping;
  const last = into.items.at(-1);
  if (write.format === 'json' || write.strings === 'quoted' || !last || inFlow(write.text, into))
    return inserted(write, into, { key, value });

  const end = endOfPair(write.text, last);
  const before = end > 0 && write.text[end - 1] !== '\n' ? write.eol : '';
  const lines = freshText({ [key]: value }, columnOf(write.text, rangeOf(last.key)[0]), write);

  return splice(write.text, end, end, `${before}${lines}${write.eol}`);
}

/** A key of the outermost mapping with a value written anew, whether it was there without one or not at all. */
function written(write: Writing, map: Mapping | undefined, key: string, value: Json): string {
  const pair = findPair(map, key);
  if (write.format === 'json' || write.strings === 'quoted' || (map && inFlow(write.text, map)))
    return pair ? replacedPair(write, mapOf(map), pair, value) : inserted(write, map, { key, value });

  const { text, eol } = write;
  const start = pair ? lineStart(text, rangeOf(pair.key)[0]) : text.length;
  const end = pair ? endOfPair(text, pair) : text.length;
  const before = start > 0 && text[start - 1] !== '\n' ? eol : '';
  return splice(text, start, end, `${before}${writtenLines(key, value, write)}${eol}`);
}

function writtenLines(key: string, value: Json, write: Writing): string {
  const { eol } = write;
  if (isList(value)) return [`${key}:`, ...value.map((item) => freshText([item], 2, write))].join(eol);
  if (isObject(value)) return `${key}:${eol}${freshText(value, 2, write)}`;
  return freshText({ [key]: value }, 0, write);
}

function appended(write: Writing, map: Mapping | undefined, path: Path, items: readonly Json[]): string {
  const node = nodeAt(map, path);
  const [key, ...above] = [...path].reverse();
  if (node === undefined)
    return insertedDeepOrWritten(write, map, { path: above.reverse(), key: String(key), value: items });
  if (!isSeq(node)) throw new CannotEdit(`\`${path.join('/')}\` is no list`);

  const seq = node as YAMLSeq.Parsed;
  const { text, eol } = write;
  const [start, valueEnd] = rangeOf(seq);
  const last = seq.items.at(-1) as Node | undefined;
  if (seq.flow === true || text[start] === '[') {
    const texts = items.map((item) => flowText(item, write, indentAt(text, start)));
    const end = last ? rangeOf(last)[1] : start + 1;
    return splice(text, end, end, last ? texts.map((item) => `, ${item}`).join('') : texts.join(', '));
  }

  const end = text[valueEnd - 1] === '\n' ? valueEnd : endOfLine(text, valueEnd);
  const before = end > 0 && text[end - 1] !== '\n' ? eol : '';
  const lines = items.map((item) => freshText([item], columnOf(text, start), write));

  return splice(text, end, end, `${before}${lines.join(eol)}${eol}`);
}

const insertedDeepOrWritten = (write: Writing, map: Mapping | undefined, fresh: DeepKey): string => {
  if (fresh.path.length === 0) return written(write, map, fresh.key, fresh.value);
  return insertedDeep(write, map, fresh);
};
