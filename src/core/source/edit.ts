import { isMap, isScalar, isSeq, type Node, type Pair, type ParsedNode, Scalar, stringify, type YAMLMap } from 'yaml';
import { at, equal, isList, isObject, type Json, type JsonObject, type Path } from '../json.ts';
import { parse, readYaml } from './yaml.ts';

/** One change of a YAML or JSON text. Only keys of the outermost mapping are renamed, removed or added. */
export type Edit =
  | { readonly do: 'rename'; readonly key: string; readonly to: string }
  | { readonly do: 'remove'; readonly key: string }
  | {
      readonly do: 'set';
      readonly path: Path;
      readonly value: Json;
      /** Keys after which a new key is placed: the first of them that is there. At the end where none is. */
      readonly after?: readonly string[];
    };

/** The edited text would not read back as what was meant. Nothing was written. */
export class CannotEdit extends Error {
  override readonly name = 'CannotEdit';
}

/**
 * Applies edits to a YAML (or, with `json`, a JSON) text by cutting and pasting source ranges, so that every byte that
 * an edit does not concern stays: comments, order, quoting, blank lines, line ends, a byte-order mark. After each
 * edit the text is read again and must say exactly what was meant.
 *
 * @throws {CannotEdit} where it would not, for example because the value is shared through an alias.
 */
export function editText(text: string, edits: readonly Edit[], format: 'yaml' | 'json'): string {
  const mark = text.startsWith('\uFEFF') ? '\uFEFF' : '';
  return mark + edits.reduce((current, edit) => editOnce(current, edit, format), text.slice(mark.length));
}

function editOnce(text: string, edit: Edit, format: 'yaml' | 'json'): string {
  const meant = meaning(dataOf(text), edit);
  const eol = text.includes('\r\n') ? '\r\n' : '\n';
  // Texts are written as plainly as they can be; where that would read as something else, in double quotes.
  for (const strings of ['plain', 'quoted'] as const) {
    const edited = apply({ text, format, eol, strings }, edit);
    if (readsAs(edited, meant, format)) return edited;
  }
  throw new CannotEdit(`the edit of ${inWords(edit)} would not read back as meant`);
}

function readsAs(text: string, meant: JsonObject, format: 'yaml' | 'json'): boolean {
  try {
    return equal(dataOf(text), meant) && (format === 'yaml' || isJson(text));
  } catch (error) {
    if (error instanceof CannotEdit) return false;
    throw error;
  }
}

function isJson(text: string): boolean {
  try {
    JSON.parse(text);
    return true;
  } catch {
    return false;
  }
}

function dataOf(text: string): JsonObject {
  const reading = readYaml(text);
  if ('unreadable' in reading) throw new CannotEdit(`the text cannot be read: ${reading.unreadable.problem}`);
  const { data } = reading.source;
  if (data === null) return {};
  if (!isObject(data)) throw new CannotEdit('the text is no mapping of keys to values');
  return data;
}

/** What the data are after an edit: the yardstick for the edited text. */
function meaning(data: JsonObject, edit: Edit): JsonObject {
  switch (edit.do) {
    case 'rename':
      return Object.fromEntries(Object.entries(data).map(([key, value]) => [key === edit.key ? edit.to : key, value]));
    case 'remove':
      return Object.fromEntries(Object.entries(data).filter(([key]) => key !== edit.key));
    case 'set':
      return setIn(data, edit.path, edit.value) as JsonObject;
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

const inWords = (edit: Edit): string => (edit.do === 'set' ? `\`${edit.path.join('/')}\`` : `\`${edit.key}\``);

function apply(write: Writing, edit: Edit): string {
  const { contents } = parse(write.text).document;
  const map = contents === null || (isScalar(contents) && contents.value === null) ? undefined : contents;
  if (map !== undefined && !isMap(map)) throw new CannotEdit('the text is no mapping of keys to values');
  switch (edit.do) {
    case 'rename':
      return renamed(write, pairOf(map, edit.key), edit.to);
    case 'remove':
      return removed(write, mapOf(map), pairOf(map, edit.key));
    case 'set':
      return set(write, map, edit.path, edit.value, edit.after ?? []);
  }
}

interface Writing {
  readonly text: string;
  readonly format: 'yaml' | 'json';
  readonly eol: string;
  readonly strings: 'plain' | 'quoted';
}
type Mapping = YAMLMap.Parsed;
type Entry = Pair<ParsedNode, ParsedNode | null>;

const mapOf = (map: Mapping | undefined): Mapping => {
  if (!map) throw new CannotEdit('the text is empty');
  return map;
};

const findPair = (map: Mapping | undefined, key: string): Entry | undefined =>
  map?.items.find((item) => isScalar(item.key) && String(item.key.value) === key);

function pairOf(map: Mapping | undefined, key: string): Entry {
  const pair = findPair(map, key);
  if (!pair) throw new CannotEdit(`there is no key \`${key}\``);
  return pair;
}

const splice = (text: string, start: number, end: number, replacement: string): string =>
  text.slice(0, start) + replacement + text.slice(end);

const rangeOf = (node: Node): readonly [start: number, valueEnd: number, end: number] => {
  if (!node.range) throw new CannotEdit('a part of the text has no place in it');
  return node.range;
};

function renamed(write: Writing, pair: Entry, to: string): string {
  const [start, end] = rangeOf(pair.key);
  return splice(write.text, start, end, scalarText(to, pair.key, write, true));
}

/* ── setting ─────────────────────────────────────────────────────────────────────────────────────────────────── */

function set(write: Writing, map: Mapping | undefined, path: Path, value: Json, after: readonly string[]): string {
  const [key, ...rest] = path;
  if (typeof key !== 'string') throw new CannotEdit('only keys of a mapping can be set');
  const pair = findPair(map, key);
  if (!pair) {
    if (rest.length > 0) throw new CannotEdit(`there is no key \`${key}\``);
    return inserted(write, map, key, value, after);
  }
  return replaced(write, mapOf(map), pair, rest, value);
}

/** Goes down to the smallest part that has to change and replaces that; the whole value where parts were added. */
function replaced(write: Writing, map: Mapping, pair: Entry, rest: Path, value: Json): string {
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
  if (rest.length > 0 && node !== owner.value) throw new CannotEdit('one item of a list is not a plain value');
  return replacedPair(write, container, owner, value);
}

const isFlowScalar = (node: Node | null): node is Scalar.Parsed =>
  isScalar(node) &&
  node.type !== 'BLOCK_FOLDED' &&
  node.type !== 'BLOCK_LITERAL' &&
  rangeOf(node)[1] > rangeOf(node)[0] &&
  !node.tag &&
  !node.anchor;

const inFlow = (text: string, map: Mapping): boolean => map.flow === true || text[rangeOf(map)[0]] === '{';

function replacedPair(write: Writing, map: Mapping, pair: Entry, value: Json): string {
  const { text } = write;
  const [keyStart, keyEnd] = rangeOf(pair.key);
  if (write.format === 'json' || inFlow(text, map)) {
    if (!pair.value) throw new CannotEdit('a key without a value stands in brackets');
    const [start, end] = rangeOf(pair.value);
    return splice(text, start, end, flowText(value, write, indentAt(text, keyStart)));
  }
  const end = pair.value ? Math.max(keyEnd + 1, rangeOf(pair.value)[1]) : text.indexOf(':', keyEnd) + 1;
  const styled = inStyleOf(pair.value, text, value);
  const lines = blockText(text.slice(keyStart, keyEnd), styled.value, columnOf(text, keyStart), write, styled.width);
  const endsLine = text[end - 1] === '\n';
  return splice(text, keyStart, end, endsLine ? lines + write.eol : lines);
}

/* ── adding and removing keys of the outermost mapping ───────────────────────────────────────────────────────── */

function inserted(
  write: Writing,
  map: Mapping | undefined,
  key: string,
  value: Json,
  after: readonly string[],
): string {
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
  const name = format === 'json' ? JSON.stringify(key) : stringifyKey(key);
  const pair = `${name}: ${flowText(value, write, '  ')}`;
  return splice(text, start, end, format === 'json' ? `{${eol}  ${pair}${eol}}` : `{ ${pair} }`);
}

function removed(write: Writing, map: Mapping, pair: Entry): string {
  const { text } = write;
  if (inFlow(text, map)) return removedFromFlow(text, map, pair);
  const start = lineStart(text, rangeOf(pair.key)[0]);
  return splice(text, start, endOfPair(text, pair), '');
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

/** The offset just after the last line of a pair in a block mapping, with a comment that ends that line. */
function endOfPair(text: string, pair: Entry): number {
  const end = pair.value ? rangeOf(pair.value)[1] : text.indexOf(':', rangeOf(pair.key)[1]) + 1;
  if (end > 0 && text[end - 1] === '\n') return end;
  const newline = text.indexOf('\n', end);
  return newline < 0 ? text.length : newline + 1;
}

/* ── writing values ──────────────────────────────────────────────────────────────────────────────────────────── */

const lineStart = (text: string, offset: number): number => text.lastIndexOf('\n', offset - 1) + 1;
const columnOf = (text: string, offset: number): number => offset - lineStart(text, offset);
const indentAt = (text: string, offset: number): string =>
  /^[ \t]*/u.exec(text.slice(lineStart(text, offset)))?.[0] ?? '';

/** A plain value as text, quoted as the one it replaces was. */
function scalarText(value: Json, old: Node, { format, strings }: Writing, inBrackets: boolean): string {
  if (typeof value !== 'string' || format === 'json' || strings === 'quoted') return JSON.stringify(value);
  const style = isScalar(old) ? old.type : undefined;
  if (style === 'QUOTE_DOUBLE') return JSON.stringify(value);
  if (style === 'QUOTE_SINGLE' && /^[\x20-\x7E\u00A0-\uD7FF\uE000-\uFEFE]*$/u.test(value))
    return `'${value.replaceAll("'", "''")}'`;
  return inBrackets && /[,[\]{}#:]/u.test(value) ? JSON.stringify(value) : oneLine(value);
}

const stringifyKey = (key: string): string => oneLine(key);
const oneLine = (value: string): string =>
  withoutLineEnd(
    stringify(value, { lineWidth: 0, ...(value.includes('\n') ? { defaultStringType: 'QUOTE_DOUBLE' as const } : {}) }),
  );

const withoutLineEnd = (text: string): string => text.replace(/\n$/u, '');

/** A text that stood in a block (`>` or `|`) stays in one, folded about as wide as before. */
function inStyleOf(
  old: Node | null,
  text: string,
  value: Json,
): { readonly value: Json | Scalar; readonly width: number } {
  if (typeof value !== 'string' || !isScalar(old) || (old.type !== 'BLOCK_FOLDED' && old.type !== 'BLOCK_LITERAL'))
    return { value, width: 0 };
  const scalar = new Scalar(value);
  scalar.type = old.type;
  const [start, end] = rangeOf(old);
  const longest = Math.max(
    40,
    ...text
      .slice(start, end)
      .split(/\r?\n/u)
      .map((line) => line.length),
  );
  return { value: scalar, width: old.type === 'BLOCK_FOLDED' ? longest : 0 };
}

/** `key: value` in block style; lines after the first are indented by `column` spaces. */
function blockText(
  key: string,
  value: Json | Scalar,
  column: number,
  { eol, strings }: Writing,
  lineWidth = 0,
): string {
  // JSON is YAML: what cannot be written plainly is written as JSON on one line.
  if (strings === 'quoted') return `${key}: ${JSON.stringify(value instanceof Scalar ? value.value : value)}`;
  const text = withoutLineEnd(stringify({ key: value }, { lineWidth, indentSeq: true }));
  const [first = '', ...rest] = text.slice('key'.length).split('\n');
  const indent = ' '.repeat(column);
  return [key + first, ...rest.map((line) => (line === '' ? line : indent + line))].join(eol);
}

/** A value inside brackets: JSON for JSON, YAML's flow style otherwise. */
function flowText(value: Json, { format, eol, strings }: Writing, indent: string): string {
  if (format === 'yaml' && strings === 'quoted') return JSON.stringify(value);
  if (format === 'yaml')
    return withoutLineEnd(
      stringify(value, {
        collectionStyle: 'flow',
        lineWidth: 0,
        defaultStringType: 'QUOTE_DOUBLE',
        defaultKeyType: 'PLAIN',
      }),
    );
  return JSON.stringify(value, undefined, 2)
    .split('\n')
    .map((line, index) => (index === 0 ? line : indent + line))
    .join(eol);
}
