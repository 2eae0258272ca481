import type { EntryStore, Stored, Unreadable } from '../stores/store.ts';
import { exitCodes, Trouble } from '../workspace/trouble.ts';

/**
 * Something that is done with every entry of a store. What it does with one is pure, so that any thread may do it; what
 * it found is folded together in the order of the store; then it finishes.
 */
export interface Pass<Found, Result> {
  map(stored: Stored): Found;
  /** Takes what was found; may have to wait, such as for a place to be worked out. */
  fold(found: Found, stored: Stored): Promise<void> | void;
  /** Takes what cannot be read as an entry. Passes that say nothing of it leave it out. */
  unreadable?(item: Unreadable): void;
  finish(): Promise<Result> | Result;
}

/** What one walk is told of its surroundings. */
export interface WalkOptions {
  /** Called once for each thing that is read, so that progress can be shown. */
  readonly watch?: (() => void) | undefined;
}

/**
 * Shows every entry of a store to some passes: each is read once, whatever is done with it. Ctrl-C stops the walk where
 * nothing is half done.
 * @throws {Trouble} where it was stopped.
 */
export async function walk<R extends readonly unknown[]>(
  store: EntryStore,
  passes: { readonly [K in keyof R]: Pass<unknown, R[K]> },
  { watch }: WalkOptions = {},
): Promise<R> {
  const stop = stoppable();
  try {
    for (const part of await store.parts(1))
      for await (const item of store.read(part)) {
        watch?.();
        if (stop.isDue()) await stop.listen();
        if ('entry' in item) await show(item, passes);
        else for (const pass of passes) pass.unreadable?.(item);
      }
    const results: unknown[] = [];
    for (const pass of passes) results.push(await pass.finish());
    return results as readonly unknown[] as R;
  } finally {
    stop.done();
  }
}

function show(stored: Stored, passes: readonly Pass<unknown, unknown>[]): Promise<void> | undefined {
  let waiting: Promise<void> | undefined;
  for (const pass of passes) {
    const taken = pass.fold(pass.map(stored), stored);
    // Most have nothing to wait for, and a promise for each entry is felt.
    if (taken) waiting = waiting ? waiting.then(() => taken) : taken;
  }
  return waiting;
}

/** How often a walk looks up, in milliseconds: so long may Ctrl-C take. */
const between = 100;

function stoppable() {
  let last = Date.now();
  let isStopped = false;
  const stop = (): void => {
    isStopped = true;
  };

  process.once('SIGINT', stop);
  return {
    isDue: () => {
      const now = Date.now();
      if (now - last < between) return false;
      last = now;
      return true;
    },
    /** Lets signals in. */
    listen: async () => {
      await new Promise((resolve) => setImmediate(resolve));
      if (isStopped)
        throw new Trouble('stopped', 'stopped, as you asked', {
          mend: 'Nothing was changed.',
          exit: exitCodes.stopped,
        });
    },
    done: () => process.off('SIGINT', stop),
  };
}

/** Every entry of a store, for what needs no pass of its own. */
export async function* entriesOf(store: EntryStore): AsyncIterable<Stored> {
  for (const part of await store.parts(1)) for await (const item of store.read(part)) if ('entry' in item) yield item;
}
