import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { builtInKeys } from '../core/definition/builtIn.ts';
import { type Limits, limits } from '../core/plain/limits.ts';
import type { StoreHome } from '../stores/store.ts';
import type { MemorySpace } from '../workspace/partMemory.ts';
import { exitCodes, Trouble, type TroubleData } from '../workspace/trouble.ts';
import type { PartAsked, PartDone } from './partWork.ts';
import type { PassWork } from './work.ts';

/** What threads share. */
export interface ThreadWork {
  readonly home: StoreHome;
  readonly passes: readonly PassWork[];
  /** Where what they find is kept for the next time. */
  readonly memory: MemorySpace | undefined;
}

/** What a thread is started with. */
export interface ThreadStart extends ThreadWork {
  readonly limits: Limits;
  readonly builtIn: ReturnType<typeof builtInKeys>;
}

/** What a thread answers when it was given a part. */
export type ThreadAnswer = { readonly done: PartDone } | { readonly trouble: TroubleData };

/** So many parts are worked on here sooner than other threads are there. */
const few = 8;

/**
 * How many threads some parts are worth; one means this one alone. LUMBRIK_THREADS says another number, however few parts
 * there are.
 */
export function threadsFor(parts: number): number {
  const said = Number(process.env.LUMBRIK_THREADS);
  if (Number.isInteger(said) && said > 0) return Math.min(said, Math.max(1, parts));
  return parts <= few ? 1 : Math.min(availableParallelism(), mostThreads, parts);
}

/** More threads than this wait for the disk, and for the one that joins what they found. */
const mostThreads = 8;

/** What is made of an entry is gone with the next one: more room for it is no faster, and taken from everybody. */
const resourceLimits = { maxYoungGenerationSizeMb: 16 };

/** Where the program of a thread lies beside this one, once they are built. */
const program = new URL(import.meta.url.includes('/chunks/') ? '../thread.js' : './thread.js', import.meta.url);

/** Threads at work on parts of a store. */
export interface Threads {
  /** Hands over what was made of a part, once; `undefined` where they were not asked for it. */
  readonly take: (part: PartAsked) => Promise<PartDone> | undefined;
  readonly end: () => Promise<unknown>;
}

/**
 * Lets other threads work on the parts of a store, each on the next one that is left. What is made of a part rejects with
 * {@link Trouble} where a thread comes to an end before its work is done: what is left undone is never taken for done.
 */
export function inThreads(work: ThreadWork, parts: readonly PartAsked[], signal: AbortSignal): Threads {
  const start: ThreadStart = { ...work, limits: limits(), builtIn: builtInKeys() };
  const queue = parts.map((part) => ({ part, ...settleable<PartDone>() }));
  const made = new Map(queue.map(({ part, promise }) => [part, promise]));
  const threads = Array.from(
    { length: threadsFor(parts.length) },
    () => new Worker(program, { workerData: start, execArgv: [], resourceLimits }),
  );
  /** Gives a thread one part after another until none is left. */
  const employ = async (thread: Worker): Promise<void> => {
    for (let one = queue.shift(); one; one = queue.shift()) {
      try {
        one.resolve(await askThread(thread, one.part, signal));
      } catch (error) {
        one.reject(error);
        return;
      }
    }
  };
  for (const thread of threads) employ(thread);
  return {
    take: (part) => {
      const promise = made.get(part);
      // Nothing is held for longer than it is asked for: it may be large.
      made.delete(part);
      return promise;
    },
    end: () => Promise.all(threads.map((thread) => thread.terminate())),
  };
}

interface Settleable<T> {
  readonly promise: Promise<T>;
  readonly resolve: (value: T) => void;
  readonly reject: (error: unknown) => void;
}

/** A promise that is settled from outside; a rejection may be looked at late. */
function settleable<T>(): Settleable<T> {
  const made: { resolve?: Settleable<T>['resolve']; reject?: Settleable<T>['reject'] } = {};
  const promise = new Promise<T>((resolve, reject) => Object.assign(made, { resolve, reject }));
  promise.catch(() => undefined);
  return { promise, ...made } as Settleable<T>;
}

function askThread(thread: Worker, part: PartAsked, signal: AbortSignal): Promise<PartDone> {
  return new Promise((resolve, reject) => {
    const settle = (act: () => void): void => {
      thread.off('message', answered).off('error', failed).off('exit', ended);
      signal.removeEventListener('abort', aborted);
      act();
    };
    const answered = (answer: ThreadAnswer): void =>
      settle(() => ('done' in answer ? resolve(answer.done) : reject(Trouble.from(answer.trouble))));
    const failed = (error: Error): void =>
      settle(() => reject(isOutOfMemory(error) ? endedEarly(error.message) : error));
    const ended = (code: number): void => settle(() => reject(endedEarly(`it ended with ${code}`)));
    const aborted = (): void => settle(() => reject(signal.reason));

    if (signal.aborted) {
      reject(signal.reason);
      return;
    }
    thread.on('message', answered).on('error', failed).on('exit', ended);
    signal.addEventListener('abort', aborted);
    thread.postMessage(part);
  });
}

const isOutOfMemory = (error: Error & { readonly code?: string }): boolean => error.code === 'ERR_WORKER_OUT_OF_MEMORY';

const endedEarly = (why: string): Trouble =>
  new Trouble('thread-ended', `a thread that read entries ended before it was done: ${why}`, {
    mend: 'Nothing was changed. Try again; where memory is short, end other programs.',
    exit: exitCodes.unusable,
  });
