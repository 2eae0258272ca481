import type { Facts } from '../check/facts.ts';
import type { Status } from '../definition/builtIn.ts';
import type { Path } from '../plain/json.ts';

/** A reference seen from one of its ends. Stored at `from` alone; the other end is an index in memory. */
export interface Edge {
  readonly from: string;
  readonly to: string;
  /** The path of the reference inside `from`. */
  readonly path: Path;
}

/** All entries and all references between them. Memory grows with the number of references, not with the entries. */
export class Graph {
  readonly #status = new Map<string, Status>();
  readonly #out = new Map<string, Edge[]>();
  readonly #in = new Map<string, Edge[]>();

  /** Takes what pass one of checking found out about an entry; the first of two with one address counts. */
  add({ entry, status, links }: Facts): void {
    if (this.#status.has(entry)) return;
    this.#status.set(entry, status);
    for (const { path, to } of links) {
      const edge = { from: entry, to: `${to.type}/${to.id}`, path };
      push(this.#out, edge.from, edge);
      push(this.#in, edge.to, edge);
    }
  }

  /** The status of an entry; `undefined` where there is no such entry. */
  statusOf(entry: string): Status | undefined {
    return this.#status.get(entry);
  }

  entries(): Iterable<string> {
    return this.#status.keys();
  }

  /** What an entry points at, in the order of its fields. */
  from(entry: string): readonly Edge[] {
    return this.#out.get(entry) ?? [];
  }

  /** What points at an entry. */
  to(entry: string): readonly Edge[] {
    return this.#in.get(entry) ?? [];
  }
}

function push(edges: Map<string, Edge[]>, key: string, edge: Edge): void {
  const list = edges.get(key);
  if (list) list.push(edge);
  else edges.set(key, [edge]);
}
