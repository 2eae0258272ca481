import { availableParallelism } from 'node:os';
import type { GiveDone, LocalWorker, PartDone, PartTask } from './localWorker.ts';
import { type Settleable, settleable } from './settleable.ts';

/** A worker elsewhere, such as another thread. It answers in the order of the tasks. */
export interface OtherWorker {
  /** Rejects where the worker comes to an end before, or has to stop. */
  workOn(task: PartTask): Promise<PartDone>;
  end(): Promise<unknown>;
}

/** Who works on the parts of a store. */
interface TeamSettings {
  /** Aborted where all of it is to stop. */
  readonly signal: AbortSignal;
  /** This thread. */
  readonly local: LocalWorker;
  /** Hires a worker elsewhere; absent where only this thread can do the work. */
  readonly hire?: (() => OtherWorker) | undefined;
}

/** How many workers are to work, as LUMBRIK_THREADS says; `undefined` where it says nothing. */
function workersWanted(): number | undefined {
  const setting = Number(process.env.LUMBRIK_THREADS);
  if (Number.isInteger(setting) && setting > 0) return setting;
  return undefined;
}

/** More workers than this wait for the disk, and for the thread that joins their findings. */
const mostWorkers = 8;

/** So long this thread works alone, in milliseconds, before it estimates how long all will take: it is slow at first. */
const trial = 150;
/** What another worker costs until it is as fast as this one, in milliseconds: it reads its program, and the engine warms up. */
const beginning = 600;
/** What one of several workers does of what one alone would: they share memory and disk. */
const efficiency = 0.7;

/** Whether several workers are sooner done than one that has so much left to do, in milliseconds. */
const isSoonerDone = (remaining: number, workers: number): boolean =>
  remaining * (1 - 1 / (workers * efficiency)) > beginning;

/**
 * Works on parts of a store, in their order: in this thread, and with other workers once the work
 * proves long.
 */
export class Team {
  readonly #settings: TeamSettings;
  /** The parts that nobody works on yet. */
  #left: readonly PartTask[];
  /** How long each part took that was worked on alone, in milliseconds. */
  readonly #durations: number[] = [];
  #together: WorkTogether | undefined;

  constructor(tasks: readonly PartTask[], settings: TeamSettings) {
    this.#left = tasks;
    this.#settings = settings;
  }

  /** Has a part worked on, and gives the result. */
  async workOn(task: PartTask, give: GiveDone): Promise<void> {
    this.#together ??= this.#togetherIfWorthIt();
    const pieces = this.#together?.take(task);
    if (pieces) for (const done of await pieces) await give(done);
    else await this.#workAlone(task, give);
  }

  async #workAlone(task: PartTask, give: GiveDone): Promise<void> {
    const begun = performance.now();
    await this.#settings.local.workOn(task, give);
    this.#durations.push(performance.now() - begun);
    this.#left = this.#left.filter((waiting) => waiting !== task);
  }

  #togetherIfWorthIt(): WorkTogether | undefined {
    const { hire } = this.#settings;
    const wanted = workersWanted();
    const workers = Math.min(wanted ?? Math.min(availableParallelism(), mostWorkers), this.#left.length);
    if (!hire || workers < 2) return undefined;
    if (wanted === undefined && !isSoonerDone(this.#timeLeft(), workers)) return undefined;
    const others = Array.from({ length: workers - 1 }, hire);
    return new WorkTogether(this.#left, others, this.#settings);
  }

  /** How long this thread alone would take for the rest, in milliseconds; nought as long as that cannot be estimated. */
  #timeLeft(): number {
    const [last, before] = this.#durations.slice(-2).reverse();
    if (last === undefined || before === undefined) return 0;
    const soFar = this.#durations.reduce((sum, duration) => sum + duration, 0);
    if (soFar < trial) return 0;
    return Math.min(last, before) * this.#left.length;
  }

  async end(): Promise<void> {
    await this.#together?.end();
  }
}

/** Another worker has one part before it and one behind that, so that it need not wait while this thread is busy. */
const partsAhead = 2;

/** A part that waits for a worker, and its result. */
interface QueuedTask extends Settleable<readonly PartDone[]> {
  readonly task: PartTask;
}

/**
 * Other workers and this thread on the parts of a store, each on the next one that is left. The result for a part rejects
 * where a worker comes to an end before its work is done: unfinished work is never taken for done.
 */
class WorkTogether {
  readonly #queue: QueuedTask[];
  readonly #promises: Map<PartTask, Promise<readonly PartDone[]>>;
  readonly #others: readonly OtherWorker[];
  readonly #ended = new AbortController();
  readonly #localWork: Promise<void>;

  constructor(tasks: readonly PartTask[], others: readonly OtherWorker[], { signal, local }: TeamSettings) {
    this.#queue = tasks.map((task) => ({ task, ...settleable<readonly PartDone[]>() }));
    this.#promises = new Map(this.#queue.map(({ task, promise }) => [task, promise]));
    this.#others = others;
    for (const other of others)
      for (let ahead = 0; ahead < partsAhead; ahead += 1) this.#employ(async (task) => [await other.workOn(task)]);
    this.#localWork = this.#employ(async (task) => {
      // What the others made comes in, and is joined, in between.
      await new Promise((resolve) => setImmediate(resolve));
      for (const aborting of [signal, this.#ended.signal]) aborting.throwIfAborted();
      return piecesOf(local, task);
    });
  }

  /** Has one part after another worked on until none is left, or one fails. */
  async #employ(workOn: (task: PartTask) => Promise<readonly PartDone[]>): Promise<void> {
    for (let queued = this.#queue.shift(); queued; queued = this.#queue.shift()) {
      try {
        queued.resolve(await workOn(queued.task));
      } catch (error) {
        queued.reject(error);
        return;
      }
    }
  }

  /** Hands over the result for a part, once: it may be large. `undefined` where the part was not among the tasks. */
  take(task: PartTask): Promise<readonly PartDone[]> | undefined {
    const promise = this.#promises.get(task);
    this.#promises.delete(task);
    return promise;
  }

  async end(): Promise<void> {
    this.#queue.length = 0;
    this.#ended.abort();
    await Promise.all([this.#localWork, ...this.#others.map((other) => other.end())]);
  }
}

/** What this thread makes of a part whose turn has not come: kept until then. */
async function piecesOf(local: LocalWorker, task: PartTask): Promise<readonly PartDone[]> {
  const pieces: PartDone[] = [];
  await local.workOn(task, (done) => {
    pieces.push(done);
  });
  return pieces;
}
