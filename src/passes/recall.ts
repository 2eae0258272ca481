import type { EntryStore, Part, PartStart, Shift } from '../stores/store.ts';
import { forgetOthers, keptKeys, type MemorySpace, recallPart, recallRest } from '../workspace/memory/partMemory.ts';
import type { LocalWorker, PartDone, PartTask } from './localWorker.ts';
import type { Pass } from './pass.ts';

/** A stored part. */
interface StoredPart extends Pick<PartDone, 'results' | 'count'> {
  readonly start: PartStart | undefined;
}

/** The results of an earlier walk for a pass. */
export class PartRecall {
  readonly #memory: MemorySpace;
  readonly #pass: Pass<unknown>;
  readonly #keys: ReadonlySet<string>;
  readonly #used = new Set<string>();

  constructor(memory: MemorySpace, pass: Pass<unknown>) {
    this.#memory = memory;
    this.#pass = pass;
    this.#keys = keptKeys(memory);
  }

  /** A task for each part. Where nothing is kept, the key of a part is worked out by the worker that reads it. */
  taskFor(part: Part, store: EntryStore): PartTask {
    if (this.#keys.size === 0) return { part };
    return { part, key: store.fingerprint?.(part) };
  }

  /** Whether something is kept of a part. It may turn out to be damaged when it is read. */
  has({ key }: PartTask): boolean {
    return key !== undefined && this.#keys.has(key);
  }

  /**
   * The result for a part, moved to where the part is now; `undefined` where it is not known.
   * @param local works on the part again where its rest is damaged.
   */
  of(task: PartTask, local: LocalWorker): PartDone | undefined {
    const { part, key } = task;
    if (key === undefined || !this.has(task)) return undefined;

    const stored = recallPart(this.#memory, key) as StoredPart | undefined;
    if (!stored) return undefined;

    const by = shiftBetween(stored.start, part.start);
    const readRest = async (): Promise<unknown> => {
      const [rest] = (recallRest(this.#memory, key) as PartDone['rest'] | undefined) ?? [];
      if (rest === undefined) return restAnew(local, task);
      return this.#pass.movedRest?.(rest, by) ?? rest;
    };

    return {
      key,
      count: stored.count,
      results: stored.results.map((result) => this.#pass.moved?.(result, by) ?? result),
      rest: [readRest],
    };
  }

  /** Notes that a part is there still. */
  use({ key }: PartDone): void {
    if (key !== undefined) this.#used.add(key);
  }

  /** Forgets all parts that are not there any more. */
  forgetOthers(): void {
    forgetOthers(this.#memory, this.#used);
  }
}

function shiftBetween(before: PartStart | undefined, now: PartStart | undefined): Shift {
  return {
    offset: (now?.offset ?? 0) - (before?.offset ?? 0),
    line: (now?.line ?? 0) - (before?.line ?? 0),
  };
}

async function restAnew(local: LocalWorker, task: PartTask): Promise<unknown> {
  let rest: unknown;
  await local.workOn(task, (done) => {
    [rest] = done.rest;
  });
  return rest;
}
