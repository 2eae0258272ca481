import type { ASTNode } from '@marcbachmann/cel-js';
import { isNode } from './syntax.ts';

/** Computing an expression took more steps than are allowed. */
export class TooCostly extends Error {
  override readonly name = 'TooCostly';
}

/** So many items of a list, or characters of a text, that are looked at inside a loop cost a step. */
const itemsPerStep = 8;
const charactersPerStep = 256;

/**
 * Counts the steps of one computation. A step is one value that is looked at inside a loop; long lists and texts cost
 * more. When all are spent, every list is empty and every text too, so that all loops end at once, however they are
 * nested: an error would not do, since CEL's `all` and `exists` go on past the errors of single items.
 */
export class Budget {
  #left = 0;

  /** @throws {TooCostly} */
  within<T>(most: number, compute: () => T): T {
    this.#left = most;
    try {
      return compute();
    } finally {
      // Whatever came out, a value or an error, came out of lists that were cut short.
      if (this.#left < 0) this.#refuse(most);
    }
  }

  #refuse(most: number): never {
    throw new TooCostly(`it takes more than ${most} steps`);
  }

  spend(value: unknown): unknown {
    this.#left -= 1 + sizeOf(value);
    if (this.#left >= 0) return value;
    if (Array.isArray(value)) return [];
    if (typeof value === 'string') return '';
    return value;
  }
}

function sizeOf(value: unknown): number {
  if (typeof value === 'string') return Math.floor(value.length / charactersPerStep);
  if (!Array.isArray(value)) return 0;
  return Math.floor(value.length / itemsPerStep);
}

/** What goes over a list, or binds a name that may then grow. */
const loops = new Set(['all', 'exists', 'exists_one', 'map', 'filter', 'bind']);

/**
 * An expression written anew: each value that is looked at inside a loop, each list that a loop goes over and each sum is
 * counted, and patterns are matched by our own engine. `undefined` where neither is needed.
 */
export function meteredText(ast: ASTNode, source: string): string | undefined {
  const calls = [...callsIn(ast)];
  if (!calls.some((name) => loops.has(name) || name === 'matches')) return undefined;
  return write(ast, { source, isInLoop: false, isMetered: calls.some((name) => loops.has(name)) });
}

function* callsIn(node: unknown): Iterable<string> {
  if (Array.isArray(node)) for (const part of node) yield* callsIn(part);
  if (!isNode(node)) return;
  if ((node.op === 'call' || node.op === 'rcall') && typeof node.args[0] === 'string') yield node.args[0];
  yield* callsIn(node.args);
}

interface Place {
  readonly source: string;
  readonly isInLoop: boolean;
  readonly isMetered: boolean;
}

/** The text of a part. Whatever has operators is in brackets, so that nothing depends on which binds more. */
function write(node: ASTNode, place: Place): string {
  switch (node.op) {
    case 'value':
      return place.source.slice(node.range.start, node.range.end);
    case 'id':
      if (place.isInLoop) return `counted(${node.args})`;
      return node.args;
    case '!_':
      return `!(${write(node.args, place)})`;
    case '-_':
      return `-(${write(node.args, place)})`;
    case '.':
    case '.?':
    case '[]':
    case '[?]':
      if (place.isInLoop) return `counted(${access(node, place)})`;
      return access(node, place);
    case '?:': {
      const [condition, yes, no] = node.args;
      return `((${write(condition, place)}) ? (${write(yes, place)}) : (${write(no, place)}))`;
    }
    case 'list':
      return `[${node.args.map((arg: ASTNode) => write(arg, place)).join(', ')}]`;
    case 'map':
      return `{${node.args.map(([key, value]: [ASTNode, ASTNode]) => `${write(key, place)}: ${write(value, place)}`).join(', ')}}`;
    case 'call':
      return call(node, place);
    case 'rcall':
      return method(node, place);
    default: {
      const [first, right] = node.args as [ASTNode, ASTNode];
      const text = `((${write(first, place)}) ${node.op} (${write(right, place)}))`;
      if (node.op === '+' && place.isMetered) return `counted(${text})`;
      return text;
    }
  }
}

/** `entry.days[0].steps`: the parts between are visited on the way, and cost nothing. */
function access(node: ASTNode, place: Place): string {
  if (node.op === 'id') return node.args;
  if (!['.', '.?', '[]', '[?]'].includes(node.op)) return write(node, place);
  const [owner, key] = node.args as [ASTNode, ASTNode | string];
  const before = access(owner, place);
  if (typeof key === 'string') return `${before}${node.op}${key}`;
  return `${before}${node.op === '[?]' ? '[?' : '['}${write(key, place)}]`;
}

function call(node: ASTNode, place: Place): string {
  const [name, args] = node.args as [string, readonly ASTNode[]];
  // `has` asks for a name, not for a value.
  const written = args.map((arg) => (name === 'has' ? access(arg, place) : write(arg, place)));
  return `${name}(${written.join(', ')})`;
}

function method(node: ASTNode, place: Place): string {
  const [name, receiver, args] = node.args as [string, ASTNode, readonly ASTNode[]];
  if (name === 'matches')
    return `(${write(receiver, place)}).matchesPattern(${args.map((arg) => write(arg, place)).join(', ')})`;
  if (!loops.has(name))
    return `(${write(receiver, place)}).${name}(${args.map((arg) => write(arg, place)).join(', ')})`;

  const inside = { ...place, isInLoop: true };
  const [variable, ...bodies] = args;
  const written = [variable?.args, ...bodies.map((body) => `counted(${write(body, inside)})`)].join(', ');
  if (name === 'bind') return `cel.bind(${written})`;
  return `counted(${write(receiver, place)}).${name}(${written})`;
}
