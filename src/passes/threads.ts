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

/** Where the program of a thread lies beside this one, once they are built. */
const program = new URL(import.meta.url.includes('/chunks/') ? '../thread.js' : './thread.js', import.meta.url);

/**
 * Lets other threads work on the parts of a store, each on the next one that is left.
 * @param parts the parts; those that are done already are not worked on again.
 * @param take takes what was made of the parts, in their order.
 * @throws {Trouble} where a thread comes to an end before its work is done: what is left undone is never taken for done.
 */
export async function inThreads(
  work: ThreadWork,
  parts: readonly (PartAsked | PartDone)[],
  signal: AbortSignal,
  take: (done: PartDone) => void,
): Promise<void> {
  const start: ThreadStart = { ...work, limits: limits(), builtIn: builtInKeys() };
  const waiting = new Map<number, PartDone>();
  let next = 0;
  let taken = 0;
  const finished = (index: number, done: PartDone): void => {
    waiting.set(index, done);
    for (let one = waiting.get(taken); one; one = waiting.get(taken)) {
      waiting.delete(taken);
      taken += 1;
      take(one);
    }
  };
  const left = parts.flatMap((part, index) => ('part' in part ? [{ part, index }] : []));
  for (const [index, part] of parts.entries()) if (!('part' in part)) finished(index, part);
  const threads = Array.from(
    { length: threadsFor(left.length) },
    () => new Worker(program, { workerData: start, execArgv: [] }),
  );
  /** Gives a thread one part after another until none is left. */
  const employ = async (thread: Worker): Promise<void> => {
    for (let one = left[next]; one; one = left[next]) {
      next += 1;
      finished(one.index, await askThread(thread, one.part, signal));
    }
  };
  try {
    await Promise.all(threads.map(employ));
  } finally {
    await Promise.all(threads.map((thread) => thread.terminate()));
  }
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
