import { type Node, parseTree } from 'jsonc-parser';
import { LineCounter } from 'yaml';
import type { Json, Path } from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';
import type { Position, Source, Span } from './yaml.ts';

/** A text of JSON that was read. Where its parts stand is worked out when somebody asks, and kept no longer than it is. */
export class JsonSource implements Source {
  readonly data: Json;
  readonly #text: string;
  #tree: { readonly root: Node | undefined; readonly lines: LineCounter } | undefined;

  constructor(text: string, data: Json) {
    this.#text = text;
    this.data = data;
  }

  locate(path: Path): Position {
    return this.span(path).start;
  }

  locateKey(path: Path): Position {
    return this.#spanOf(path, true).start;
  }

  span(path: Path): Span {
    return this.#spanOf(path, false);
  }

  #spanOf(path: Path, wantKey: boolean): Span {
    this.#tree ??= { root: parseTree(this.#text), lines: linesOf(this.#text) };
    const { root, lines } = this.#tree;
    const { offset, length } = nodeAt(root, path, wantKey);
    return { start: position(lines, offset), end: position(lines, offset + length) };
  }
}

/** The value at a path, or the nearest thing around it that does exist. */
function nodeAt(root: Node | undefined, path: Path, wantKey: boolean): Pick<Node, 'offset' | 'length'> {
  let node = root;
  let nodeRange: Pick<Node, 'offset' | 'length'> = root ?? { offset: 0, length: 0 };
  for (const part of path) {
    if (node?.type === 'object') {
      const property = propertiesOf(node).get(String(part));
      const [key, value]: readonly (Node | undefined)[] = property?.children ?? [];
      if (!key) return nodeRange;
      nodeRange = wantKey ? key : (value ?? key);
      node = value;
    } else {
      const item = node?.type === 'array' ? node.children?.[Number(part)] : undefined;
      if (!item) return nodeRange;
      nodeRange = item;
      node = item;
    }
  }

  return nodeRange;
}

/** The properties of an object by key. Many places may be requested in one. */
const propertiesOf = onceFor(
  ({ children = [] }: Node): ReadonlyMap<string, Node> =>
    new Map(children.map((property) => [String(property.children?.[0]?.value), property])),
);

function linesOf(text: string): LineCounter {
  const lines = new LineCounter();
  lines.addNewLine(0);
  for (let index = text.indexOf('\n'); index >= 0; index = text.indexOf('\n', index + 1)) lines.addNewLine(index + 1);
  return lines;
}

function position(lines: LineCounter, offset: number): Position {
  const { line, col } = lines.linePos(offset);
  return { line, column: col };
}
