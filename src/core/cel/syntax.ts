import type { ASTNode } from '@marcbachmann/cel-js';

/** Whether something in a syntax tree is a part of it, not a name or a value. */
export const isNode = (value: unknown): value is ASTNode =>
  typeof value === 'object' && value !== null && 'op' in value && 'range' in value;

/** The parts of what a part of a syntax tree is made of. */
export function childrenOf(args: unknown): readonly ASTNode[] {
  if (Array.isArray(args)) return args.flatMap(childrenOf);
  return isNode(args) ? [args] : [];
}

export const limits = { maxAstNodes: 2_000, maxDepth: 60 };
