import type { Facts } from '../check/facts.ts';
import { type Hidden, hiddenAt, hiddenFrom } from '../check/visibility.ts';
import type { Status } from '../definition/builtIn.ts';
import type { Path } from '../plain/json.ts';

/** A reference seen from one of its ends. Stored at `from` alone; the other end is an index in memory. */
export interface Edge {
  readonly from: string;
  readonly to: string;
  /** The path of the reference inside `from`. */
  readonly path: Path;
  /** The address of its field. */
  readonly field: string;
  /** Whether the reference is part of a value and not all of it. */
  readonly isWithin: boolean;
}

/** All entries and all references between them. Memory grows with the number of references, not with the entries. */
export class Graph {
  readonly #entries = new Map<string, Pick<Facts, 'status' | 'window'>>();
  readonly #out = new Map<string, Edge[]>();
  readonly #in = new Map<string, Edge[]>();

  /** Takes what pass one of checking found out about an entry; the first of two with one address counts. */
  add({ entry, status, window, links }: Facts): void {
    if (this.#entries.has(entry)) return;

    this.#entries.set(entry, { status, window });
    for (const { to, ...link } of links) {
      const edge = { from: entry, to: `${to.type}/${to.id}`, ...link };
      push(this.#out, edge.from, edge);
      push(this.#in, edge.to, edge);
    }
  }

  /** The status of an entry; `undefined` where there is no such entry. */
  statusOf(entry: string): Status | undefined {
    return this.#entries.get(entry)?.status;
  }

  /** Why readers of a published entry do not find another published one that it points at; see {@link hiddenFrom}. */
  hiddenFrom(reader: string, target: string, currentTime: string): Hidden | undefined {
    if (this.statusOf(target) !== 'published') return undefined;
    return hiddenFrom(this.#entries.get(reader)?.window, this.#entries.get(target)?.window, currentTime);
  }

  /** Why readers do not find an entry at a moment although it is published. */
  hiddenAt(entry: string, currentTime: string): Hidden | undefined {
    if (this.statusOf(entry) !== 'published') return undefined;
    return hiddenAt(this.#entries.get(entry)?.window, currentTime);
  }

  entries(): Iterable<string> {
    return this.#entries.keys();
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
