import { z } from 'zod';
import { parseAddress } from '../core/definition/address.ts';
import { entryAddressOf } from '../core/entry/entry.ts';
import { type Edge, Graph } from '../core/graph/graph.ts';
import { publishingOrder, type Reached, reach, siblings } from '../core/graph/reach.ts';
import { asks } from '../core/model/convertValue.ts';
import type { Field, Model } from '../core/model/link.ts';
import { fieldNamed, fieldsWithin } from '../core/model/nestedFields.ts';
import { titleOf } from '../core/model/traversal.ts';
import { compact, type Path, pointer } from '../core/plain/json.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { factsPass } from '../passes/facts.ts';
import { type WalkOptions, walk } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import type { EntryStore } from '../stores/store.ts';
import { timestamp } from '../workspace/clock.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { reading } from './openForCall.ts';
import { head, resultVersion } from './result.ts';

const status = z.enum(['draft', 'published', 'archived', 'missing']);

/** Why readers do not see a published entry now: its time has not come yet, or is over. */
const hidden = z.strictObject({ why: z.enum(['not-yet', 'no-longer']), date: z.string() }).optional();

interface Node {
  readonly entry: string;
  readonly title?: string | undefined;
  readonly status: z.output<typeof status>;
  readonly hidden?: z.output<typeof hidden>;
  /** Whether it is elsewhere in the tree, where it is followed. */
  readonly again: boolean;
  readonly next: readonly { readonly pointer: string; readonly name: string; readonly node: Node }[];
}
const Node: z.ZodType<Node> = z.lazy(() =>
  z.strictObject({
    entry: z.string(),
    title: z.string().optional(),
    status,
    hidden,
    again: z.boolean(),
    next: z.array(z.strictObject({ pointer: z.string(), name: z.string(), node: Node })),
  }),
);

const Reference = z.strictObject({ from: z.string(), pointer: z.string(), to: z.string(), status, hidden });

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
  entries: z.array(z.strictObject({ entry: z.string(), title: z.string().optional(), status, hidden })),
});

/** The result of `lumbrik trace`. */
export const TraceResult = z.discriminatedUnion('what', [Around, Publishing, Deleting, Unlinked]);
export type TraceResult = z.output<typeof TraceResult>;

/** The options of a trace. */
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
    const { order, blocked } = publishingOrder(web.graph, entry, web.currentTime);
    return {
      ...command,
      what: 'publishing',
      entry,
      ok: blocked.length === 0,
      order: order.map(({ entries }) => [...entries]),
      blocked: blocked.map(({ from, path, to, status, hidden }) =>
        compact({ from, pointer: pointer(path), to, status, hidden }),
      ),
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
    pointsAt: nodeOf(reach(web.graph, entry, depth, 'from'), web, (edge) => fieldPathOf(edge)),
    pointedAtBy: nodeOf(reach(web.graph, entry, depth, 'to'), web, (edge) => inverseOf(workspace.model, edge)),
    siblings: siblings(web.graph, entry).map((sibling) => ({ ...sibling, entries: [...sibling.entries] })),
  };
}

interface Web {
  readonly graph: Graph;
  readonly titles: ReadonlyMap<string, string>;
  /** The moment at which readers are requested. */
  readonly currentTime: string;
  /** How many references stand together as the value of one field, by `entry#pointer`. */
  readonly held: ReadonlyMap<string, number>;
}

async function readWeb(model: Model, store: EntryStore, options: WalkOptions): Promise<Web> {
  const graph = new Graph();
  const titles = new Map<string, string>();
  const held = new Map<string, number>();
  const pass = await factsPass(model, (facts, entry) => {
    graph.add(facts);
    for (const { path } of facts.links) {
      const key = `${facts.entry}#${pointer(valuePath(path))}`;
      held.set(key, (held.get(key) ?? 0) + 1);
    }

    const title = titleOf(entry, model.types.get(entry.type), model.context.languages[0] ?? 'en');
    if (title !== undefined) titles.set(facts.entry, title);
  });

  await walk(store, [pass], options);

  return { graph, titles, currentTime: timestamp(), held };
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
        ? `List the entries: lumbrik show ${address.type}`
        : `There is no type \`${address.type}\` either.`),
  });
}

function nodeOf({ entry, status: state, again, next }: Reached, web: Web, nameOf: (edge: Edge) => string): Node {
  const title = web.titles.get(entry);
  return compact({
    entry,
    title,
    status: state,
    hidden: web.graph.hiddenAt(entry, web.currentTime),
    again,
    next: next.map(({ edge, reached }) => ({
      pointer: pointer(edge.path),
      name: nameOf(edge),
      node: nodeOf(reached, web, nameOf),
    })),
  });
}

/** The name of the field that a reference is in: its path where it is inside an object. */
const fieldPathOf = ({ field }: Edge): string => field.slice(field.indexOf('.') + 1);

const fieldOf = (model: Model, edge: Edge): Field | undefined => {
  const type = model.types.get(entryAddressOf(edge.from).type);
  return type && fieldNamed(type, fieldPathOf(edge));
};

/** The name that a field gives to its other side, or the field itself where it gives none. */
function inverseOf(model: Model, edge: Edge): string {
  const field = fieldOf(model, edge);
  return field?.kind.pointsAt(field.options).inverse ?? edge.field;
}

/** The value that a reference is part of: all that is in one list, or the reference alone. */
const valuePath = (path: Path): Path => {
  if (typeof path.at(-1) !== 'number') return path;
  return path.slice(0, -1);
};

function danglingBy(edge: Edge, { graph, held }: Web, model: Model): z.output<typeof Deleting>['dangling'][number] {
  const { from, path, isWithin } = edge;
  const field = fieldOf(model, edge);
  const state = graph.statusOf(from) ?? 'missing';
  // Without a reference inside it, a text is still there.
  const isAsked = field !== undefined && !isWithin && state !== 'missing' && asks(field, state);

  return {
    from,
    pointer: pointer(path),
    status: state,
    required: isAsked && held.get(`${from}#${pointer(valuePath(path))}`) === 1,
  };
}

function unlinked({ graph, titles, currentTime }: Web, model: Model): TraceResult {
  const targets = new Set(
    [...model.types.values()]
      .flatMap(({ fields }) => fieldsWithin(fields))
      .flatMap(({ kind, options }) => kind.pointsAt(options).types)
      .flatMap(model.context.acceptedAs),
  );
  const entries = [...graph.entries()].filter(
    (entry) => targets.has(entryAddressOf(entry).type) && graph.to(entry).length === 0,
  );

  return {
    ...command,
    what: 'unlinked',
    types: [...targets].sort(),
    entries: entries.sort().map((entry) =>
      compact({
        entry,
        title: titles.get(entry),
        status: graph.statusOf(entry) ?? 'missing',
        hidden: graph.hiddenAt(entry, currentTime),
      }),
    ),
  };
}
