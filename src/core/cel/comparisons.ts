import type { ASTNode } from '@marcbachmann/cel-js';
import { childrenOf, isNode, pathOf } from './syntax.ts';

/** A literal text of an expression, with its place. */
export interface LiteralText {
  readonly text: string;
  readonly start: number;
  readonly end: number;
}

/** A value that an expression compares with texts, by the names on the way to it: `entry`, `hours`, `opens`. */
export interface Comparison {
  readonly path: readonly string[];
  readonly texts: readonly LiteralText[];
}

/** What comprehensions call their items, with the way to the list that they are of. */
type Items = ReadonlyMap<string, readonly string[]>;

const comparing: ReadonlySet<string> = new Set(['==', '!=', 'in']);

/** Every comparison of a value with texts in a part of an expression. */
export function* comparisonsIn(node: ASTNode, items: Items = new Map()): Iterable<Comparison> {
  if (comparing.has(node.op)) {
    const [first, right] = childrenOf(node.args);
    if (first && right) {
      yield* comparedWith(first, right, items);
      yield* comparedWith(right, first, items);
    }
  }

  const inner = itemsBelow(node, items);
  for (const child of childrenOf(node.args)) yield* comparisonsIn(child, inner);
}

function* comparedWith(side: ASTNode, other: ASTNode, items: Items): Iterable<Comparison> {
  const path = pathOf(side, items);
  const texts = path ? textsOf(other) : [];
  if (path && texts.length > 0) yield { path, texts };
}

/** The texts that a part of an expression is, or may be: those of a list, and of both sides of a decision. */
export function textsOf(node: ASTNode): readonly LiteralText[] {
  if (node.op === 'value') return typeof node.args === 'string' ? [{ text: node.args, ...node.range }] : [];
  if (node.op === 'list') return childrenOf(node.args).flatMap(textsOf);
  if (node.op !== '?:') return [];
  return childrenOf(node.args).slice(1).flatMap(textsOf);
}

const overItems: ReadonlySet<string> = new Set(['exists', 'exists_one', 'all', 'filter', 'map']);

/** What a comprehension calls an item is what the list before it holds: `entry.tags.exists(tag, tag == "sea")`. */
function itemsBelow(node: ASTNode, items: Items): Items {
  if (node.op !== 'rcall' || !Array.isArray(node.args)) return items;
  const [call, receiver, given] = node.args as readonly [unknown, unknown, unknown];
  const [item] = Array.isArray(given) ? given : [];
  const path = overItems.has(String(call)) && isNode(receiver) ? pathOf(receiver, items) : undefined;
  if (path && isNode(item) && item.op === 'id') return new Map([...items, [String(item.args), path]]);
  return items;
}
