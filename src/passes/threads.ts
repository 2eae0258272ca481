import { Worker } from 'node:worker_threads';
import type { StoreHome } from '../stores/store.ts';
import { exitCodes } from '../workspace/exitCodes.ts';
import type { MemorySpace } from '../workspace/memory/partMemory.ts';
import { Trouble, type TroubleData } from '../workspace/trouble.ts';
import type { PartDone, PartTask } from './localWorker.ts';
import type { WorkRequest } from './pass.ts';
import { type Settleable, settleable } from './settleable.ts';
import type { OtherWorker } from './team.ts';

/** What workers do with the parts of a store: plain data, with which a thread is started. */
export interface Job {
  readonly home: StoreHome;
  readonly requests: readonly WorkRequest[];
  /** Where their results are kept for the next time. */
  readonly memory: MemorySpace | undefined;
}

/** What a thread answers when it was given a part. */
export type ThreadAnswer = { readonly done: PartDone } | { readonly trouble: TroubleData };

/** The objects of an entry are garbage at the next one: more room for it is no faster, and taken from everybody. */
const resourceLimits = { maxYoungGenerationSizeMb: 16 };

/** Where the program of a thread is beside this one, once they are built. */
const program = new URL(import.meta.url.includes('/chunks/') ? '../thread.js' : './thread.js', import.meta.url);

/** Another thread, which works on parts of a store. */
export class OtherThread implements OtherWorker {
  readonly #worker: Worker;
  readonly #asked: Settleable<PartDone>[] = [];
  #why: unknown;

  /** @param signal aborted where all work is to stop. */
  constructor(job: Job, signal: AbortSignal) {
    this.#worker = new Worker(program, { workerData: job, execArgv: [], resourceLimits })
      .on('message', (answer: ThreadAnswer) => {
        const waiting = this.#asked.shift();
        if ('done' in answer) waiting?.resolve(answer.done);
        else waiting?.reject(Trouble.from(answer.trouble));
      })
      .on('error', (error) => this.#giveUp(isOutOfMemory(error) ? endedEarly(error.message) : error))
      .on('exit', (code) => this.#giveUp(endedEarly(`it ended with ${code}`)));
    signal.addEventListener('abort', () => this.#giveUp(signal.reason));
  }

  workOn(task: PartTask): Promise<PartDone> {
    const waiting = settleable<PartDone>();
    if (this.#why !== undefined) waiting.reject(this.#why);
    else {
      this.#asked.push(waiting);
      this.#worker.postMessage(task);
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

const isOutOfMemory = (error: Error & { readonly code?: string }): boolean => error.code === 'ERR_WORKER_OUT_OF_MEMORY';

const endedEarly = (reason: string): Trouble =>
  new Trouble('thread-ended', `a thread that read entries ended before it was done: ${reason}`, {
    mend: 'Nothing was changed. Try again; where memory is short, end other programs.',
    exit: exitCodes.unusable,
  });
