import type { ASTNode } from '@marcbachmann/cel-js';

/** Whether something in a syntax tree is a part of it, not a name or a value. */
export const isNode = (value: unknown): value is ASTNode =>
  typeof value === 'object' && value !== null && 'op' in value && 'range' in value;

/** The parts of what a part of a syntax tree is made of. */
export function childrenOf(args: unknown): readonly ASTNode[] {
  if (Array.isArray(args)) return args.flatMap(childrenOf);
  if (!isNode(args)) return [];
  return [args];
}

/** Bounds of the parser of expressions. */
export const limits = { maxAstNodes: 2_000, maxDepth: 60 };

/** Whether a part of an expression is a literal text. */
export const isTextLiteral = (node: unknown): node is ASTNode =>
  isNode(node) && node.op === 'value' && typeof node.args === 'string';

/**
 * The names on the way to a value, `entry.days[0].steps` as `entry`, `days`, `steps`: the number of an item is no part of it.
 * @param ways the ways that some variables stand for.
 */
export function pathOf(
  node: ASTNode,
  ways: ReadonlyMap<string, readonly string[]> = new Map(),
): readonly string[] | undefined {
  if (node.op === 'id') return ways.get(String(node.args)) ?? [String(node.args)];
  if (node.op !== '.' && node.op !== '[]') return undefined;

  const [holder, key] = node.args as readonly [ASTNode, unknown];
  const above = isNode(holder) ? pathOf(holder, ways) : undefined;
  if (!above) return undefined;
  if (node.op === '.') return [...above, String(key)];
  if (!isTextLiteral(key)) return above;
  return [...above, String(key.args)];
}
