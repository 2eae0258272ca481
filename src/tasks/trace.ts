import { z } from 'zod';
import { parseAddress } from '../core/definition/address.ts';
import { type Edge, Graph } from '../core/graph/graph.ts';
import { publishingOrder, type Reached, reach, siblings } from '../core/graph/reach.ts';
import { asks } from '../core/model/convertValue.ts';
import type { Field, Model } from '../core/model/link.ts';
import { titleOf } from '../core/model/traversal.ts';
import { compact, pointer } from '../core/plain/json.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { factsPass } from '../passes/facts.ts';
import { type WalkOptions, walk } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import type { EntryStore } from '../stores/store.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { reading } from './enter.ts';
import { head, resultVersion } from './result.ts';

const status = z.enum(['draft', 'published', 'archived', 'missing']);

interface Node {
  readonly entry: string;
  readonly title?: string | undefined;
  readonly status: z.output<typeof status>;
  /** Whether it stands elsewhere in the tree, where it is followed. */
  readonly again: boolean;
  readonly next: readonly { readonly pointer: string; readonly name: string; readonly node: Node }[];
}
const Node: z.ZodType<Node> = z.lazy(() =>
  z.strictObject({
    entry: z.string(),
    title: z.string().optional(),
    status,
    again: z.boolean(),
    next: z.array(z.strictObject({ pointer: z.string(), name: z.string(), node: Node })),
  }),
);

const Reference = z.strictObject({ from: z.string(), pointer: z.string(), to: z.string(), status });

const Around = z.strictObject({
  ...head('trace'),
  what: z.literal('around'),
  entry: z.string(),
  depth: z.int(),
  pointsAt: Node,
  pointedAtBy: Node,
  siblings: z.array(z.strictObject({ parent: z.string(), field: z.string(), entries: z.array(z.string()) })),
});

const Publishing = z.strictObject({
  ...head('trace'),
  what: z.literal('publishing'),
  entry: z.string(),
  /** Whether it can be published once those before it are. */
  ok: z.boolean(),
  /** What to publish, in this order; several entries in one step point at each other. */
  order: z.array(z.array(z.string())),
  blocked: z.array(Reference),
});

const Deleting = z.strictObject({
  ...head('trace'),
  what: z.literal('deleting'),
  entry: z.string(),
  /** Whether nothing would dangle. */
  ok: z.boolean(),
  /** References that would lead nowhere, and whether their entry would lack a required value without them. */
  dangling: z.array(z.strictObject({ from: z.string(), pointer: z.string(), status, required: z.boolean() })),
});

const Unlinked = z.strictObject({
  ...head('trace'),
  what: z.literal('unlinked'),
  /** The types that some reference may point at; entries of others are not looked at. */
  types: z.array(z.string()),
  entries: z.array(z.strictObject({ entry: z.string(), title: z.string().optional(), status })),
});

export const TraceResult = z.discriminatedUnion('what', [Around, Publishing, Deleting, Unlinked]);
export type TraceResult = z.output<typeof TraceResult>;

export interface TraceCall {
  readonly entry: string | undefined;
  readonly depth: number;
  readonly ask: 'around' | 'publishing' | 'deleting' | 'unlinked';
}

const command = { lumbrik: resultVersion, command: 'trace' } as const;

/** Walks the references of an entry, or lists the entries that no reference leads to. */
export async function trace(call: Call, { entry: text, depth, ask }: TraceCall): Promise<TraceResult> {
  const workspace = await reading(call);
  const web = await readWeb(workspace.model, openStore(workspace), call);
  if (ask === 'unlinked') return unlinked(web, workspace.model);
  const entry = entryNamed(web, workspace.model, text);
  if (ask === 'publishing') {
    const { order, blocked } = publishingOrder(web.graph, entry);
    return {
      ...command,
      what: 'publishing',
      entry,
      ok: blocked.length === 0,
      order: order.map(({ entries }) => [...entries]),
      blocked: blocked.map((edge) => ({
        from: edge.from,
        pointer: pointer(edge.path),
        to: edge.to,
        status: edge.status,
      })),
    };
  }
  if (ask === 'deleting') {
    const dangling = web.graph.to(entry).map((edge) => danglingBy(edge, web, workspace.model));
    return { ...command, what: 'deleting', entry, ok: dangling.length === 0, dangling };
  }

  return {
    ...command,
    what: 'around',
    entry,
    depth,
    pointsAt: nodeOf(reach(web.graph, entry, depth, 'from'), web, (_, field) => field),
    pointedAtBy: nodeOf(reach(web.graph, entry, depth, 'to'), web, (from, field) =>
      inverseOf(workspace.model, from, field),
    ),
    siblings: siblings(web.graph, entry).map((one) => ({ ...one, entries: [...one.entries] })),
  };
}

interface Web {
  readonly graph: Graph;
  readonly titles: ReadonlyMap<string, string>;
  /** How many references each field of each entry holds, by `entry#field`. */
  readonly held: ReadonlyMap<string, number>;
}

async function readWeb(model: Model, store: EntryStore, options: WalkOptions): Promise<Web> {
  const graph = new Graph();
  const titles = new Map<string, string>();
  const held = new Map<string, number>();
  const pass = factsPass(model, (facts, entry) => {
    graph.add(facts);
    for (const { path } of facts.links) {
      const key = `${facts.entry}#${String(path[0])}`;
      held.set(key, (held.get(key) ?? 0) + 1);
    }
    const title = titleOf(entry, model.types.get(entry.type), model.context.languages[0] ?? 'en');
    if (title !== undefined) titles.set(facts.entry, title);
  });

  await walk(store, [pass], options);
  return { graph, titles, held };
}

function entryNamed({ graph }: Web, model: Model, text: string | undefined): string {
  const address = text === undefined ? undefined : parseAddress(text);
  if (address?.what !== 'entry')
    throw new Trouble(
      'malformed-address',
      text === undefined ? 'no entry is named' : `“${text}” is no address of an entry`,
      { mend: 'Write it as type and identifier: lumbrik trace lighthouse/skerry-point' },
    );
  const key = `${address.type}/${address.id}`;
  if (graph.statusOf(key) !== undefined) return key;
  const near = didYouMean(key, graph.entries());
  throw new Trouble('not-found', `there is no entry \`${key}\``, {
    mend:
      near ??
      (model.types.has(address.type)
        ? `See what there is: lumbrik show ${address.type}`
        : `There is no type \`${address.type}\` either.`),
  });
}

function nodeOf(
  { entry, status: state, again, next }: Reached,
  web: Web,
  nameOf: (from: string, field: string) => string,
): Node {
  const title = web.titles.get(entry);
  return compact({
    entry,
    title,
    status: state,
    again,
    next: next.map(({ path, reached }) => ({
      pointer: pointer(path),
      name: nameOf(reached.entry, String(path[0])),
      node: nodeOf(reached, web, nameOf),
    })),
  });
}

const fieldOf = (model: Model, entry: string, field: string): Field | undefined =>
  model.types.get(entry.slice(0, entry.indexOf('/')))?.fields.get(field);

/** The name that a field gives to its other side, or the field itself where it gives none. */
function inverseOf(model: Model, from: string, name: string): string {
  const field = fieldOf(model, from, name);
  return field?.kind.pointsAt(field.options).inverse ?? field?.address ?? name;
}

function danglingBy(
  { from, path }: Edge,
  { graph, held }: Web,
  model: Model,
): z.output<typeof Deleting>['dangling'][number] {
  const field = fieldOf(model, from, String(path[0]));
  const state = graph.statusOf(from) ?? 'missing';
  const isAsked = field !== undefined && state !== 'missing' && asks(field, state);
  return {
    from,
    pointer: pointer(path),
    status: state,
    required: isAsked && held.get(`${from}#${String(path[0])}`) === 1,
  };
}

function unlinked({ graph, titles }: Web, model: Model): TraceResult {
  const targets = new Set(
    [...model.types.values()].flatMap(({ fields }) =>
      [...fields.values()].flatMap(({ kind, options }) => kind.pointsAt(options).types),
    ),
  );
  const entries = [...graph.entries()].filter(
    (entry) => targets.has(entry.slice(0, entry.indexOf('/'))) && graph.to(entry).length === 0,
  );
  return {
    ...command,
    what: 'unlinked',
    types: [...targets].sort(),
    entries: entries.sort().map((entry) => {
      const title = titles.get(entry);
      return compact({ entry, title, status: graph.statusOf(entry) ?? 'missing' });
    }),
  };
}
