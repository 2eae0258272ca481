import { isMap } from 'yaml';
import { at, isObject, type Json, type JsonObject } from '../plain/json.ts';
import { groupOnTheWay, loneOnTheWay } from '../plain/relocate.ts';
import type { Edit } from './editOperation.ts';
import { columnOf, lineStart, stringifyKey, type Writing } from './writeValue.ts';
import { parse } from './yaml.ts';
import {
  type Entry,
  endOfPair,
  findPair,
  inFlow,
  type Mapping,
  mappingAt,
  nodeAt,
  rangeOf,
  splice,
} from './yamlNodes.ts';

/**
 * Moves lines of YAML as they stand, with their comments and their quoting, only deeper or less deep.
 * @returns the text afterwards; `undefined` where keys are in braces, so that there are no lines of their own.
 */
export function movedLines(
  write: Writing,
  { inside = [], from, to, after = [] }: Extract<Edit, { do: 'carry' }>,
): string | undefined {
  const { document } = parse(write.text);
  const { contents } = document;
  const data = at(document.toJS() as Json, inside);
  const map = isMap(contents) ? nodeAt(contents as Mapping, inside) : undefined;
  if (!isMapping(map) || !isObject(data)) return undefined;

  const moving = linesOf(write, map, from);
  if (!moving) return undefined;

  const cut = loneOnTheWay(data, from);
  const removedLines = cut.length === from.length ? moving : linesOf(write, map, cut);
  const place = placeFor(write, map, { data, cut, to, after });
  if (!removedLines || !place || (place.at > removedLines.start && place.at < removedLines.end)) return undefined;

  const missing = to.slice(place.depth, -1);
  const heads = missing.map((key, index) => `${' '.repeat(place.column + 2 * index)}${stringifyKey(key)}:${write.eol}`);
  const column = place.column + 2 * missing.length;
  const body = renamedKey(indented(moving.lines, column - moving.column), to.at(-1) ?? '', column);
  const lines = `${heads.join('')}${body}`;
  const fresh = `${place.needsBreak ? write.eol : ''}${lines}${lines.endsWith('\n') ? '' : write.eol}`;

  if (place.at <= removedLines.start)
    return splice(splice(write.text, removedLines.start, removedLines.end, ''), place.at, place.at, fresh);
  return splice(splice(write.text, place.at, place.at, fresh), removedLines.start, removedLines.end, '');
}

const isMapping = (node: unknown): node is Mapping => isMap(node);

interface Lines {
  readonly start: number;
  readonly end: number;
  readonly column: number;
  readonly lines: string;
}

/** The lines of a key with its value; nothing where it has no lines to itself. */
function linesOf({ text }: Writing, map: Mapping, keys: readonly string[]): Lines | undefined {
  const holder = mappingAt(map, keys.slice(0, -1));
  const pair = holder && findPair(holder, keys.at(-1) ?? '');
  if (!holder || !pair || inFlow(text, holder)) return undefined;

  const [keyStart] = rangeOf(pair.key);
  const start = lineStart(text, keyStart);
  // The first key of an item of a list stands behind a hyphen.
  if (text.slice(start, keyStart).trim() !== '') return undefined;

  const end = endOfPair(text, pair);
  return { start, end, column: columnOf(text, keyStart), lines: text.slice(start, end) };
}

interface Placing {
  readonly data: JsonObject;
  /** Removed text is no place to put anything behind. */
  readonly cut: readonly string[];
  readonly to: readonly string[];
  readonly after: readonly string[];
}

/** Where the lines come, how far in, and how many of the groups on the way are there already. */
function placeFor({ text }: Writing, map: Mapping, { data, cut, to, after }: Placing) {
  const group = groupOnTheWay(data, to);
  const holder = mappingAt(map, group);
  if (!holder || inFlow(text, holder)) return undefined;

  const isCut = (pair: Entry): boolean =>
    group.length === cut.length - 1 &&
    group.every((key, index) => key === cut[index]) &&
    findPair(holder, cut.at(-1) ?? '') === pair;

  const stay = holder.items.filter((pair) => !isCut(pair as Entry)) as Entry[];
  const anchors = group.length === 0 ? after.flatMap((name) => findPair(holder, name) ?? []) : [];
  const anchor = anchors.find((pair) => !isCut(pair)) ?? stay.at(-1);
  if (!anchor) return undefined;

  const position = endOfPair(text, anchor);

  return {
    at: position,
    column: columnOf(text, rangeOf(anchor.key)[0]),
    depth: group.length,
    needsBreak: position > 0 && text[position - 1] !== '\n',
  };
}

/** Lines indented by some columns more or less; blank lines stay blank. */
const indented = (lines: string, by: number): string =>
  lines.replace(/^[ \t]*(?=\S)/gmu, (indent) => ' '.repeat(Math.max(0, indent.length + by)));

/** The first line with another key. */
const renamedKey = (lines: string, key: string, column: number): string =>
  lines.replace(
    /^[ \t]*(?:"(?:[^"\\]|\\.)*"|'(?:[^']|'')*'|[^\s:][^:\n]*?)(?=[ \t]*:)/u,
    () => ' '.repeat(column) + stringifyKey(key),
  );
