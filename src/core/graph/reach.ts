import type { Hidden } from '../check/visibility.ts';
import type { Status } from '../definition/builtIn.ts';
import type { Edge, Graph } from './graph.ts';

/** One entry on a walk, with those that the walk reaches from it. */
export interface Reached {
  readonly entry: string;
  readonly status: Status | 'missing';
  /** Whether it is elsewhere on the walk already, and so is not followed again here. */
  readonly again: boolean;
  readonly next: readonly Way[];
}

/** A reference that a walk follows, and where it leads. */
interface Way {
  readonly edge: Edge;
  readonly reached: Reached;
}

/** The direction in which references are followed. */
export type Direction = 'from' | 'to';

/**
 * Walks from an entry along its references (`from`), or against them (`to`), as far as a depth. Each entry is followed
 * once, the nearest time it is met, so a walk ends on every graph and takes no longer than the graph is large.
 */
export function reach(graph: Graph, start: string, depth: number, direction: Direction): Reached {
  // Level by level: an entry is followed where it is nearest, whatever longer way leads there too.
  const followedFrom = new Map<string, string>([[start, '']]);
  let level = [start];

  for (let far = 0; far < depth; far += 1) {
    const after: string[] = [];
    for (const entry of level)
      for (const edge of graph[direction](entry)) {
        const other = otherEnd(edge, direction);
        if (followedFrom.has(other)) continue;
        followedFrom.set(other, entry);
        after.push(other);
      }

    level = after;
  }

  const visited = new Set<string>();

  const reach = (entry: string, parent: string, depth: number): Reached => {
    const again = visited.has(entry) || followedFrom.get(entry) !== parent;
    if (!again) visited.add(entry);
    const next =
      again || depth === 0
        ? []
        : graph[direction](entry).map(
            (edge): Way => ({ edge, reached: reach(otherEnd(edge, direction), entry, depth - 1) }),
          );

    return { entry, status: graph.statusOf(entry) ?? 'missing', again, next };
  };

  return reach(start, '', depth);
}

const otherEnd = ({ from, to }: Edge, direction: Direction): string => {
  if (direction === 'from') return to;
  return from;
};

/** Entries that share a parent with one: the parent points at both, through the same field. */
export interface Siblings {
  readonly parent: string;
  /** The name of the field: its path where it is inside an object. */
  readonly field: string;
  readonly entries: readonly string[];
}

/** The entries that share a referrer with an entry, by the field that points at them. */
export function siblings(graph: Graph, entry: string): readonly Siblings[] {
  return graph.to(entry).flatMap(({ from, field: address }) => {
    const field = address.slice(address.indexOf('.') + 1);
    const entries = graph
      .from(from)
      .filter((edge) => edge.field === address && edge.to !== entry)
      .map(({ to }) => to);

    if (entries.length > 0) return [{ parent: from, field, entries }];
    return [];
  });
}

/** A step on the way to publishing an entry. */
interface ToPublish {
  /** One entry, or several that point at each other and so have to be published together. */
  readonly entries: readonly string[];
}

/** An order for publishing entries, and the references that would still lead nowhere. */
export interface PublishingOrder {
  readonly order: readonly ToPublish[];
  /** References that would still lead nowhere, to something archived, or to what readers do not see at that time. */
  readonly blocked: readonly (Edge & { readonly status: Status | 'missing'; readonly hidden?: Hidden })[];
}

/**
 * What has to be published before an entry can be, in order: targets come first. Entries that point at
 * each other in a circle form one step. (Tarjan's strongly connected components, without recursion.)
 * @param currentTime the moment (RFC 3339) of publishing.
 */
export function publishingOrder(graph: Graph, start: string, currentTime: string): PublishingOrder {
  const order: ToPublish[] = [];
  const blocked: PublishingOrder['blocked'][number][] = [];
  const index = new Map<string, number>();
  const low = new Map<string, number>();
  const open: string[] = [];
  const isOpen = new Set<string>();
  const frames: { readonly entry: string; readonly edges: readonly Edge[]; at: number }[] = [];

  const enter = (entry: string): void => {
    index.set(entry, index.size);
    low.set(entry, index.get(entry) ?? 0);
    open.push(entry);
    isOpen.add(entry);
    frames.push({ entry, edges: graph.from(entry), at: 0 });
  };

  const lower = (entry: string, to: number): void => {
    low.set(entry, Math.min(low.get(entry) ?? to, to));
  };

  enter(start);

  for (let frame = frames.at(-1); frame; frame = frames.at(-1)) {
    const edge = frame.edges[frame.at];
    if (edge) {
      frame.at += 1;
      const status = graph.statusOf(edge.to) ?? 'missing';
      const hidden = graph.hiddenFrom(edge.from, edge.to, currentTime);
      if (status === 'missing' || status === 'archived') blocked.push({ ...edge, status });
      else if (hidden) blocked.push({ ...edge, status, hidden });
      else if (status === 'draft' && !index.has(edge.to)) enter(edge.to);
      else if (isOpen.has(edge.to)) lower(frame.entry, index.get(edge.to) ?? 0);

      continue;
    }

    frames.pop();
    const parent = frames.at(-1);
    if (parent) lower(parent.entry, low.get(frame.entry) ?? 0);
    if (low.get(frame.entry) !== index.get(frame.entry)) continue;

    const circle = open.splice(open.indexOf(frame.entry));
    for (const entry of circle) isOpen.delete(entry);
    const drafts = circle.filter((entry) => graph.statusOf(entry) !== 'published');
    if (drafts.length > 0) order.push({ entries: drafts.reverse() });
  }

  return { order, blocked };
}
