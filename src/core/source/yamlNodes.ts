import type { Pair, ParsedNode, YAMLMap } from 'yaml';
import { isMap, isScalar, isSeq, type Node, type Scalar } from 'yaml';
import type { Path } from '../plain/json.ts';
import { CannotEdit } from './editOperation.ts';

/** A mapping of a YAML document. */
export type Mapping = YAMLMap.Parsed;

/** A pair of a mapping. */
export type Entry = Pair<ParsedNode, ParsedNode | null>;

/** The mapping. @throws CannotEdit if the text is empty. */
export const mapOf = (map: Mapping | undefined): Mapping => {
  if (!map) throw new CannotEdit('the text is empty');
  return map;
};

/** The pair with a key, if there is one. */
export const findPair = (map: Mapping | undefined, key: string): Entry | undefined =>
  map?.items.find((item) => isScalar(item.key) && String(item.key.value) === key);

/** The pair with a key. @throws CannotEdit if there is none. */
export function pairOf(map: Mapping | undefined, key: string): Entry {
  const pair = findPair(map, key);
  if (!pair) throw new CannotEdit(`there is no key \`${key}\``);
  return pair;
}

/** A text with a range replaced. */
export const splice = (text: string, start: number, end: number, replacement: string): string =>
  text.slice(0, start) + replacement + text.slice(end);

/** The offsets of a node: start, end of its value, end. */
export const rangeOf = (node: Node): readonly [start: number, valueEnd: number, end: number] => {
  if (!node.range) throw new CannotEdit('a part of the text has no place in it');
  return node.range;
};

/** Whether a node is a scalar without a block style. */
export const isFlowScalar = (node: Node | null): node is Scalar.Parsed =>
  isScalar(node) &&
  node.type !== 'BLOCK_FOLDED' &&
  node.type !== 'BLOCK_LITERAL' &&
  rangeOf(node)[1] > rangeOf(node)[0] &&
  !node.tag &&
  !node.anchor;

/** Whether a mapping is written in braces. */
export const inFlow = (text: string, map: Mapping): boolean => map.flow === true || text[rangeOf(map)[0]] === '{';

/** The offset just after the last line of a pair in a block mapping, with a comment that ends that line. */
export function endOfPair(text: string, pair: Entry): number {
  const end = pair.value ? rangeOf(pair.value)[1] : text.indexOf(':', rangeOf(pair.key)[1]) + 1;
  if (end > 0 && text[end - 1] === '\n') return end;
  return endOfLine(text, end);
}

/** The offset just after the line that a place is in. */
export function endOfLine(text: string, offset: number): number {
  const newline = text.indexOf('\n', offset);
  if (newline < 0) return text.length;
  return newline + 1;
}

/* ── adding inside ───────────────────────────────────────────────────────────────────────────────────────────── */

/** The node at a path; `undefined` where nothing or nothing but a key is there. */
export function nodeAt(map: Mapping | undefined, path: Path): Node | undefined {
  let node: Node | null | undefined = map;
  for (const part of path) {
    if (isMap(node)) node = findPair(node as Mapping, String(part))?.value;
    else if (isSeq(node)) node = node.items[Number(part)] as Node | undefined;
    else return undefined;
  }

  if (node === null || node === undefined || (isScalar(node) && node.value === null)) return undefined;
  return node;
}

/** The mapping at a path. @throws {CannotEdit} where something else is there. */
export function mappingAt(map: Mapping | undefined, path: Path = []): Mapping | undefined {
  const node = nodeAt(map, path);
  if (path.length > 0 && !isMap(node)) throw new CannotEdit(`there are no keys at \`${path.join('/')}\``);
  return node as Mapping | undefined;
}
