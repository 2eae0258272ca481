import { once } from '../core/plain/once.ts';
import type { EntryStore, Item, Part, Stored, Unreadable } from '../stores/store.ts';
import { exitCodes } from '../workspace/exitCodes.ts';
import { forgetOthers, keptKeys, type MemorySpace, recallPart, recallRest } from '../workspace/partMemory.ts';
import { Trouble } from '../workspace/trouble.ts';
import { both, eachItem, type Waiting } from './eachItem.ts';
import type { Shift } from './packedPlaces.ts';
import { type PartAsked, type PartDone, prepareWork } from './partWork.ts';
import type { FoundSoFar, ReadProgress } from './progress.ts';
import { SharedWork } from './threads.ts';
import type { PassWork } from './work.ts';

/**
 * Something that is done with every entry of a store. What it does with one is pure, so that any thread may do it; what
 * it found is folded together in the order of the store; then it finishes.
 */
export interface Pass<Found, Result> {
  map(stored: Stored): Found;
  /** Takes findings; may have to wait, such as for a place to be worked out. */
  fold(result: Found, stored: Stored): Promise<void> | void;
  /** Takes what cannot be read as an entry. Passes that say nothing of it leave it out. */
  unreadable?(item: Unreadable): void;
  /** Problems so far, to be shown while it lasts. */
  soFar?(): FoundSoFar | undefined;
  finish(): Promise<Result> | Result;
  /** How other threads do it with whole parts of a large store, where they can. */
  readonly apart?: Apart;
}

/** A pass that other threads take part in. */
interface Apart {
  /** Their work, as plain data. */
  readonly work: PassWork;
  /**
   * Takes what one of them made of a part; the parts come in their order. May have to wait before it takes the next.
   * @param rest what else was made of it; where that is kept from an earlier time, what gets it.
   * @param key its cache key, where it may be: another one once anything in the part is.
   */
  take(partResult: never, rest: never, key: string | undefined): Promise<void> | void;
  /** The cache for results of parts, valid as long as their dependencies stay. */
  readonly memory?: MemorySpace | undefined;
  /** The result for a part, where that is elsewhere now: of the stored data. */
  shifted?(partResult: never, by: Shift): unknown;
  /** The same of the rest. */
  shiftedRest?(rest: never, by: Shift): unknown;
}

/** What one walk is reported of its surroundings. */
export interface WalkOptions {
  /** Called with the amount read, so that progress can be shown. */
  readonly watch?: ((read: ReadProgress) => void) | undefined;
  /** Stops the walk like Ctrl-C does, with its reason. */
  readonly until?: AbortSignal | undefined;
}

/**
 * Shows every entry of a store to some passes: each is read once, whatever is done with it. Ctrl-C stops the walk where
 * nothing is half done.
 * @throws {Trouble} where it was stopped.
 */
export async function walk<R extends readonly unknown[]>(
  store: EntryStore,
  passes: { readonly [K in keyof R]: Pass<unknown, R[K]> },
  options: WalkOptions = {},
): Promise<R> {
  const stop = stoppable(options.until);
  try {
    const isTaken = await walkApart(store, passes, options, stop);
    if (!isTaken) await walkHere(store, passes, options, stop);
    const results: unknown[] = [];
    for (const pass of passes) results.push(await pass.finish());
    return results as readonly unknown[] as R;
  } finally {
    stop.done();
  }
}

type Passes = readonly Pass<unknown, unknown>[];

/** Walks part by part, here or in other threads. @returns whether it did: a store with one part is walked here. */
async function walkApart(store: EntryStore, passes: Passes, { watch }: WalkOptions, stop: Stop): Promise<boolean> {
  const { home } = store;
  const apart = passes.flatMap((pass) => pass.apart ?? []);
  if (!home || apart.length < passes.length) return false;

  const parts = await store.parts(mostParts);
  if (parts.length < 2) return false;

  const [first] = apart;
  const memory = apart.length === 1 ? first?.memory : undefined;
  // Where nothing is remembered, what parts are kept under is worked out where they are read.
  const keys = memory && keptKeys(memory);
  const tasks = parts.map((part): PartAsked => (keys?.size ? { part, key: store.fingerprint?.(part) } : { part }));
  const isKept = ({ key }: PartAsked): boolean => key !== undefined && keys?.has(key) === true;
  const works = apart.map(({ work }) => work);
  const remaining = tasks.filter((task) => !isKept(task));
  const prepared = once(() => prepareWork(works, store, memory));
  const workHere = async (task: PartAsked): Promise<PartDone> =>
    (await prepared())(task, () => (stop.isDue() ? stop.listen() : undefined));
  const work = new SharedWork({ home, passes: works, memory }, remaining, { signal: stop.signal, workHere });
  const used = new Set<string>();
  try {
    for (const [index, task] of tasks.entries()) {
      if (stop.isDue()) await stop.listen();
      // One at a time: all of it together would take as much memory as reading all of it at once.
      const remembered = memory && first && isKept(task) ? recalled(memory, task, first, workHere) : undefined;
      const { made: created, rest, count, key } = remembered ?? (await work.do(task));
      if (key !== undefined) used.add(key);
      for (const [pass, taking] of apart.entries()) await taking.take(created[pass] as never, rest[pass] as never, key);
      watch?.({ count, share: (index + 1) / parts.length, found: () => foundIn(passes) });
    }
  } finally {
    await work.end();
  }

  if (memory) forgetOthers(memory, used);

  return true;
}

/** The result for a part the last time, moved to where it stands now. */
function recalled(
  memory: MemorySpace,
  task: PartAsked,
  { shifted, shiftedRest }: Apart,
  anew: (partAsked: PartAsked) => Promise<PartDone>,
): PartDone | undefined {
  const { part, key } = task;
  if (key === undefined) return undefined;

  const stored = recallPart(memory, key) as (PartDone & { readonly part: Part }) | undefined;
  if (!stored) return undefined;

  const from = (key: 'from' | 'line'): number => Number(part[key] ?? 0) - Number(stored.part[key] ?? 0);
  const by: Shift = { offset: from('from'), line: from('line') };

  /** Read once it is needed; where it was damaged, the part is worked on again. */
  const restOf = (pass: number) => async (): Promise<unknown> => {
    const rest = (recallRest(memory, key) as readonly unknown[] | undefined)?.[pass];
    if (rest === undefined) return (await anew(task)).rest[pass];
    return shiftedRest?.(rest as never, by) ?? rest;
  };

  return {
    key,
    count: stored.count,
    made: stored.made.map((result) => shifted?.(result as never, by) ?? result),
    rest: stored.made.map((_, pass) => restOf(pass)),
  };
}

/** So many parts are small enough to be handed over soon, and to be shared out evenly. */
const mostParts = 256;

async function walkHere(store: EntryStore, passes: Passes, { watch }: WalkOptions, stop: Stop): Promise<void> {
  const read: ReadProgress = { count: 1, found: () => foundIn(passes) };
  const take = (item: Item): Waiting => {
    watch?.(read);
    if ('entry' in item) return show(item, passes);
    for (const pass of passes) pass.unreadable?.(item);
    return undefined;
  };

  for (const part of await store.parts(1))
    await eachItem(store, part, (item) => (stop.isDue() ? stop.listen().then(() => take(item)) : take(item)));
}

const show = (stored: Stored, passes: Passes): Waiting =>
  passes.reduce<Waiting>((waiting, pass) => both(waiting, pass.fold(pass.map(stored), stored)), undefined);

const foundIn = (passes: Passes): FoundSoFar | undefined =>
  passes.map((pass) => pass.soFar?.()).find((foundSoFar) => foundSoFar !== undefined);

/** How often a walk looks up, in milliseconds: so long may Ctrl-C take. */
const between = 100;

type Stop = ReturnType<typeof stoppable>;

function stoppable(until?: AbortSignal) {
  let last = Date.now();
  const controller = new AbortController();
  const signal = until ? AbortSignal.any([controller.signal, until]) : controller.signal;
  const stop = (): void => controller.abort(stopped());

  process.once('SIGINT', stop);

  return {
    /** Aborted once somebody presses Ctrl-C, which is the reason. */
    signal,
    isDue: () => {
      const currentTime = Date.now();
      if (currentTime - last < between) return false;
      last = currentTime;
      return true;
    },
    /** Lets signals in. */
    listen: async () => {
      await new Promise((resolve) => setImmediate(resolve));
      signal.throwIfAborted();
    },
    done: () => process.off('SIGINT', stop),
  };
}

const stopped = (): Trouble =>
  new Trouble('stopped', 'stopped, as you asked', { mend: 'Nothing was changed.', exit: exitCodes.stopped });

/** Every entry of a store, for what needs no pass to itself. */
export async function* entriesOf(store: EntryStore): AsyncIterable<Stored> {
  for (const part of await store.parts(1)) for await (const item of store.read(part)) if ('entry' in item) yield item;
}
