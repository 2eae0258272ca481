/**
 * Whether something is nested deeper than so many levels. Goes level by level, so it takes no stack, and it ends even
 * where a node contains itself. Call it before any function that calls itself for each level: V8 ends the process, and
 * throws nothing, where it compiles a regular expression on a stack that is nearly used up.
 * @param root level 1.
 */
export function isDeeperThan<Node>(root: Node, most: number, childrenOf: (node: Node) => Iterable<Node>): boolean {
  let level = new Set([root]);
  for (let depth = 1; depth <= most; depth += 1) {
    const below = new Set<Node>();
    for (const node of level) for (const child of childrenOf(node)) below.add(child);
    if (below.size === 0) return false;
    level = below;
  }

  return true;
}
