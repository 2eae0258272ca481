import { once } from '../core/plain/once.ts';
import type { EntryStore, Part } from '../stores/store.ts';
import { keepPart, type MemorySpace } from '../workspace/memory/partMemory.ts';
import { both, eachItem, type Waiting } from './eachItem.ts';
import type { BeginPart, PartWork } from './pass.ts';

/** A part that is to be worked on. */
export interface PartTask {
  readonly part: Part;
  /** The key under which its result is kept, where that is known already. */
  readonly key?: string | undefined;
}

/** The results for a part, or for a piece of it: one thing for each pass. */
export interface PartDone {
  readonly results: readonly unknown[];
  /** The rest of the result for each pass. */
  readonly rest: readonly unknown[];
  /** How many things were read. */
  readonly count: number;
  /** The key under which it may be kept. */
  readonly key: string | undefined;
}

/** Takes a result; may have to wait before it takes more. */
export type GiveDone = (done: PartDone) => Promise<void> | void;

/** What a worker in this thread needs. */
interface LocalWorkerSettings {
  readonly store: EntryStore;
  /** How each pass begins with a part. */
  readonly prepare: () => Promise<readonly BeginPart<unknown, unknown>[]>;
  readonly memory: MemorySpace | undefined;
  /** Lets others work in between. */
  readonly pause?: () => Waiting;
  /** A part that is not kept is handed over in pieces of so many things; in one piece where this is absent. */
  readonly piece?: number;
}

/** Works on parts of a store in the thread that it belongs to. */
export class LocalWorker {
  readonly #settings: LocalWorkerSettings;
  readonly #prepared: () => Promise<readonly BeginPart<unknown, unknown>[]>;

  constructor(settings: LocalWorkerSettings) {
    this.#settings = settings;
    this.#prepared = once(settings.prepare);
  }

  /** Reads a part, and gives the results of the passes. */
  async workOn(task: PartTask, give: GiveDone): Promise<void> {
    const { store, memory, pause, piece = Number.POSITIVE_INFINITY } = this.#settings;
    const begins = await this.#prepared();
    const key = memory && (task.key ?? store.fingerprint?.(task.part));
    let work = begins.map((begin) => begin());
    let count = 0;

    const giveSoFar = async (): Promise<void> => {
      const done = this.#done(work, { task, key, count });
      work = begins.map((begin) => begin());
      count = 0;
      await give(done);
    };

    await eachItem(store, task.part, (item) => {
      count += 1;
      let waiting = pause?.();
      for (const partWork of work)
        if ('entry' in item) waiting = both(waiting, partWork.see(item));
        else partWork.unreadable?.(item);

      if (count < piece || key !== undefined) return waiting;
      return Promise.resolve(waiting).then(giveSoFar);
    });
    await giveSoFar();
  }

  /** The result so far; kept for the next time where that may be. */
  #done(
    work: readonly PartWork<unknown, unknown>[],
    { task: { part }, key, count }: { task: PartTask; key: string | undefined; count: number },
  ): PartDone {
    const { store, memory } = this.#settings;
    const done = work.map((partWork) => partWork.done(key !== undefined));
    const results = done.map(({ result }) => result);
    const rest = done.map((partResult) => partResult.rest);
    // What changed while it was read is kept under no key.
    const isLasting = done.every(({ isLasting: lasts }) => lasts === true) && store.fingerprint?.(part) === key;
    if (memory && key !== undefined && isLasting) keepPart(memory, key, { results, count, start: part.start }, rest);

    return { results, rest, count, key };
  }
}
