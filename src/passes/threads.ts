import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { builtInKeys } from '../core/definition/builtIn.ts';
import { type Limits, limits } from '../core/plain/limits.ts';
import type { StoreHome } from '../stores/store.ts';
import { exitCodes } from '../workspace/exitCodes.ts';
import type { MemorySpace } from '../workspace/partMemory.ts';
import { Trouble, type TroubleData } from '../workspace/trouble.ts';
import type { PartAsked, PartDone } from './partWork.ts';
import type { PassWork } from './work.ts';

/** What threads share. */
export interface ThreadWork {
  readonly home: StoreHome;
  readonly passes: readonly PassWork[];
  /** The cache for their findings. */
  readonly memory: MemorySpace | undefined;
}

/** What a thread is started with. */
export interface ThreadStart extends ThreadWork {
  readonly limits: Limits;
  readonly builtIn: ReturnType<typeof builtInKeys>;
}

/** What a thread answers when it was given a part. */
export type ThreadAnswer = { readonly done: PartDone } | { readonly trouble: TroubleData };

/** How many threads are to work, as LUMBRIK_THREADS says; `undefined` where it says nothing. */
function threadsSaid(): number | undefined {
  const setting = Number(process.env.LUMBRIK_THREADS);
  if (Number.isInteger(setting) && setting > 0) return setting;
  return undefined;
}

/** More threads than this wait for the disk, and for the one that joins their findings. */
const mostThreads = 8;

/** So long this thread works alone, in milliseconds, before it tells how long all will take: it is slow at first. */
const trial = 150;
/** What a thread costs until it is as fast as this one, in milliseconds: it reads its program, and the engine warms up. */
const beginning = 600;
/** What one of several threads does of what one alone would: they share memory and disk. */
const efficiency = 0.7;

/** Whether several threads are sooner done than one that has so much left to do, in milliseconds. */
const isSoonerDone = (remaining: number, threads: number): boolean =>
  remaining * (1 - 1 / (threads * efficiency)) > beginning;

/** The objects of an entry are garbage at the next one: more room for it is no faster, and taken from everybody. */
const resourceLimits = { maxYoungGenerationSizeMb: 16 };

/** Where the program of a thread is beside this one, once they are built. */
const program = new URL(import.meta.url.includes('/chunks/') ? '../thread.js' : './thread.js', import.meta.url);

/** How parts are worked on. */
interface WorkSetting {
  /** Aborted where all of it is to stop. */
  readonly signal: AbortSignal;
  /** What this thread does with a part itself. */
  readonly workHere: (part: PartAsked) => Promise<PartDone>;
}

/** Work on parts of a store, which are requested in their order: here, and in other threads too once it proves long. */
export class SharedWork {
  readonly #work: ThreadWork;
  readonly #working: WorkSetting;
  /** The parts that nobody works on yet. */
  #left: readonly PartAsked[];
  /** How long each part took that was worked on here, in milliseconds. */
  readonly #taken: number[] = [];
  #threads: Threads | undefined;

  constructor(work: ThreadWork, parts: readonly PartAsked[], working: WorkSetting) {
    this.#work = work;
    this.#working = working;
    this.#left = parts;
  }

  /** The result for the next part. */
  async do(part: PartAsked): Promise<PartDone> {
    this.#threads ??= this.#othersIfWorthIt();
    const used = this.#threads?.take(part);
    if (used) return used;

    const begun = performance.now();
    const partDone = await this.#working.workHere(part);
    this.#taken.push(performance.now() - begun);
    this.#left = this.#left.filter((partAsked) => partAsked !== part);
    return partDone;
  }

  #othersIfWorthIt(): Threads | undefined {
    const setting = threadsSaid();
    const threads = Math.min(setting ?? Math.min(availableParallelism(), mostThreads), this.#left.length);
    if (threads < 2) return undefined;
    if (setting === undefined && !isSoonerDone(this.#timeLeft(), threads)) return undefined;
    return inThreads(this.#work, this.#left, { ...this.#working, threads: threads - 1 });
  }

  /** How long this thread alone would take for the rest, in milliseconds; nought as long as that cannot be reported. */
  #timeLeft(): number {
    const [last, before] = this.#taken.slice(-2).reverse();
    if (last === undefined || before === undefined) return 0;
    const soFar = this.#taken.reduce((sum, cost) => sum + cost, 0);
    if (soFar < trial) return 0;
    return Math.min(last, before) * this.#left.length;
  }

  async end(): Promise<void> {
    await this.#threads?.end();
  }
}

/** Threads at work on parts of a store. */
interface Threads {
  /** Hands over the result for a part, once; `undefined` where they were not asked for it. */
  readonly take: (part: PartAsked) => Promise<PartDone> | undefined;
  readonly end: () => Promise<void>;
}

/** A thread has one part before it and one behind that, so that it need not wait while this one is at work itself. */
const partsAhead = 2;

/**
 * Lets other threads and this one work on the parts of a store, each on the next one that is left. The result for a part
 * rejects with {@link Trouble} where a thread comes to an end before its work is done: unfinished work is never taken
 * for done.
 */
function inThreads(
  work: ThreadWork,
  parts: readonly PartAsked[],
  { signal, workHere, threads: count }: WorkSetting & { readonly threads: number },
): Threads {
  const start: ThreadStart = { ...work, limits: limits(), builtIn: builtInKeys() };
  const queue = parts.map((part) => ({ part, ...settleable<PartDone>() }));
  const promises = new Map(queue.map(({ part, promise }) => [part, promise]));
  const threads = Array.from({ length: count }, () => new OtherThread(start, signal));

  /** Has one part after another worked on until none is left, or one fails. */
  const employ = async (workOn: (part: PartAsked) => Promise<PartDone>): Promise<void> => {
    for (let waiting = queue.shift(); waiting; waiting = queue.shift()) {
      try {
        waiting.resolve(await workOn(waiting.part));
      } catch (error) {
        waiting.reject(error);
        return;
      }
    }
  };

  for (const other of threads) for (let ahead = 0; ahead < partsAhead; ahead += 1) employ((part) => other.workOn(part));
  const ended = new AbortController();
  const ownWork = employ(async (part) => {
    // What the others made comes in, and is joined, in between.
    await new Promise((resolve) => setImmediate(resolve));
    for (const aborting of [signal, ended.signal]) aborting.throwIfAborted();
    return workHere(part);
  });

  return {
    take: (part) => {
      const promise = promises.get(part);
      // Nothing is kept for longer than it is requested: it may be large.
      promises.delete(part);
      return promise;
    },
    end: async () => {
      queue.length = 0;
      ended.abort();
      await Promise.all([ownWork, ...threads.map((other) => other.end())]);
    },
  };
}

/** Another thread, which answers in the order of the requests. */
class OtherThread {
  readonly #worker: Worker;
  readonly #asked: Settleable<PartDone>[] = [];
  #why: unknown;

  constructor(start: ThreadStart, signal: AbortSignal) {
    this.#worker = new Worker(program, { workerData: start, execArgv: [], resourceLimits })
      .on('message', (answer: ThreadAnswer) => {
        const waiting = this.#asked.shift();
        if ('done' in answer) waiting?.resolve(answer.done);
        else waiting?.reject(Trouble.from(answer.trouble));
      })
      .on('error', (error) => this.#giveUp(isOutOfMemory(error) ? endedEarly(error.message) : error))
      .on('exit', (code) => this.#giveUp(endedEarly(`it ended with ${code}`)));
    signal.addEventListener('abort', () => this.#giveUp(signal.reason));
  }

  /** Rejects where the thread comes to an end before, or is shown to stop. */
  workOn(part: PartAsked): Promise<PartDone> {
    const waiting = settleable<PartDone>();
    if (this.#why !== undefined) waiting.reject(this.#why);
    else {
      this.#asked.push(waiting);
      this.#worker.postMessage(part);
    }

    return waiting.promise;
  }

  #giveUp(reason: unknown): void {
    this.#why ??= reason;
    for (const waiting of this.#asked.splice(0)) waiting.reject(this.#why);
  }

  end(): Promise<number> {
    return this.#worker.terminate();
  }
}

interface Settleable<T> {
  readonly promise: Promise<T>;
  readonly resolve: (value: T) => void;
  readonly reject: (error: unknown) => void;
}

/** A promise that is settled from outside; a rejection may be looked at late. */
function settleable<T>(): Settleable<T> {
  const settlers: { resolve?: Settleable<T>['resolve']; reject?: Settleable<T>['reject'] } = {};
  const promise = new Promise<T>((resolve, reject) => Object.assign(settlers, { resolve, reject }));
  promise.catch(() => undefined);
  return { promise, ...settlers } as Settleable<T>;
}

const isOutOfMemory = (error: Error & { readonly code?: string }): boolean => error.code === 'ERR_WORKER_OUT_OF_MEMORY';

const endedEarly = (reason: string): Trouble =>
  new Trouble('thread-ended', `a thread that read entries ended before it was done: ${reason}`, {
    mend: 'Nothing was changed. Try again; where memory is short, end other programs.',
    exit: exitCodes.unusable,
  });
