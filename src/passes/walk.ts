import type { EntryStore, Stored } from '../stores/store.ts';
import { Interrupt } from '../workspace/interrupt.ts';
import { LocalWorker, type PartDone, type PartTask } from './localWorker.ts';
import type { Pass } from './pass.ts';
import type { FoundSoFar, ReadProgress } from './progress.ts';
import { PartRecall } from './recall.ts';
import { Team } from './team.ts';
import { type Job, OtherThread } from './threads.ts';

/** The surroundings of a walk. */
export interface WalkOptions {
  /** Called with the amount read, so that progress can be shown. */
  readonly watch?: ((read: ReadProgress) => void) | undefined;
  /** Stops the walk like Ctrl-C does, with its reason. */
  readonly until?: AbortSignal | undefined;
}

type Passes = readonly Pass<unknown>[];

/**
 * Shows every entry of a store to some passes: each is read once, whatever is done with it. Ctrl-C stops the walk where
 * nothing is half done.
 * @throws {Trouble} where it was stopped.
 */
export async function walk<R extends readonly unknown[]>(
  store: EntryStore,
  passes: { readonly [K in keyof R]: Pass<R[K]> },
  { watch, until }: WalkOptions = {},
): Promise<R> {
  const interrupt = new Interrupt(until);
  try {
    await new Walk(store, passes, interrupt).go(watch);
    const results: unknown[] = [];
    for (const pass of passes) results.push(await pass.finish());
    return results as readonly unknown[] as R;
  } finally {
    interrupt.end();
  }
}

/** So many parts are small enough to be handed over soon, and to be shared out evenly. */
const mostParts = 256;

/** So many things are handed over at once where a part is not kept. */
const piece = 4096;

/** One walk over a store. */
class Walk {
  readonly #store: EntryStore;
  readonly #passes: Passes;
  readonly #interrupt: Interrupt;

  constructor(store: EntryStore, passes: Passes, interrupt: Interrupt) {
    this.#store = store;
    this.#passes = passes;
    this.#interrupt = interrupt;
  }

  /** Has all parts worked on, and hands the results to the passes, in the order of the store. */
  async go(watch: WalkOptions['watch']): Promise<void> {
    const job = this.#job();
    const parts = await this.#store.parts(job ? mostParts : 1);
    const recall = parts.length > 1 ? this.#recall() : undefined;
    const tasks = parts.map((part): PartTask => recall?.taskFor(part, this.#store) ?? { part });
    const local = this.#localWorker(recall && job?.memory);
    const remaining = tasks.filter((task) => !recall?.has(task));
    const { signal } = this.#interrupt;
    const hire = job && (() => new OtherThread(job, signal));
    const team = new Team(remaining, { signal, local, hire });

    try {
      for (const [index, task] of tasks.entries()) {
        if (this.#interrupt.isDue()) await this.#interrupt.listen();
        const give = async (done: PartDone): Promise<void> => {
          recall?.use(done);
          await this.#give(done);
          watch?.({ count: done.count, share: (index + 1) / parts.length, found: () => this.#found() });
        };
        const recalled = recall?.of(task, local);
        if (recalled) await give(recalled);
        else await team.workOn(task, give);
      }
    } finally {
      await team.end();
    }

    recall?.forgetOthers();
  }

  /** The job for other workers; `undefined` where one of the passes needs this thread. */
  #job(): Job | undefined {
    const { home } = this.#store;
    const requests = this.#passes.flatMap(({ elsewhere }) => elsewhere ?? []);
    if (!home || requests.length < this.#passes.length) return undefined;
    return { home, requests, memory: this.#memory() };
  }

  #memory() {
    const [first, ...others] = this.#passes;
    if (others.length > 0) return undefined;
    return first?.memory;
  }

  #recall(): PartRecall | undefined {
    const [pass] = this.#passes;
    const memory = this.#memory();
    return memory && pass && new PartRecall(memory, pass);
  }

  #localWorker(memory: Job['memory']): LocalWorker {
    const [store, interrupt] = [this.#store, this.#interrupt];
    const prepare = () => Promise.all(this.#passes.map((pass) => pass.prepare(store)));
    const pause = (): Promise<void> | undefined => {
      if (interrupt.isDue()) return interrupt.listen();
      return undefined;
    };
    return new LocalWorker({ store, prepare, memory, pause, piece });
  }

  /** Hands the results for a part to the passes, each its own. */
  async #give({ results, rest, key }: PartDone): Promise<void> {
    for (const [index, pass] of this.#passes.entries())
      await pass.take({ result: results[index], rest: rest[index], key });
  }

  #found(): FoundSoFar | undefined {
    return this.#passes.map((pass) => pass.soFar?.()).find((soFar) => soFar !== undefined);
  }
}

/** Every entry of a store, for what needs no pass to itself. */
export async function* entriesOf(store: EntryStore): AsyncIterable<Stored> {
  for (const part of await store.parts(1)) for await (const item of store.read(part)) if ('entry' in item) yield item;
}
