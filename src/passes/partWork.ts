import { link } from '../core/model/link.ts';
import type { EntryStore, Part, Stored, Unreadable } from '../stores/store.ts';
import { keepPart, type MemorySpace } from '../workspace/partMemory.ts';
import { AddressesPart } from './addressesPart.ts';
import { AheadPart } from './aheadPart.ts';
import { checkerFor } from './checker.ts';
import { CheckPart } from './checkPart.ts';
import { DigestPart } from './digestPart.ts';
import { both, eachItem, type Waiting } from './eachItem.ts';
import { LearnPart } from './learnPart.ts';
import { planAgain } from './planAgain.ts';
import { ProfilePart } from './profilePart.ts';
import { RehearsePart } from './rehearsePart.ts';
import type { PassWork } from './work.ts';

/** A part that is to be worked on, with what its result is kept under, where that is known now. */
export interface PartAsked {
  readonly part: Part;
  readonly key?: string | undefined;
}

/** The result for a part: one thing for each pass. */
export interface PartDone {
  readonly made: readonly unknown[];
  /** What else was made of it for each, which is large and seldom needed again. */
  readonly rest: readonly unknown[];
  /** How many things were read. */
  readonly count: number;
  /** Its cache key, where it may be. */
  readonly key?: string | undefined;
}

/** What works on one part after the other for a pass. */
interface PartWorker {
  readonly see: (stored: Stored) => Waiting;
  readonly unreadable: (item: Unreadable) => void;
  readonly done: (mayBeKept: boolean) => {
    readonly made: unknown;
    readonly rest?: unknown;
    /** Whether it holds at any other moment too. */
    readonly isLasting?: boolean;
  };
}

type WorkOf<P extends PassWork['pass']> = Extract<PassWork, { pass: P }>;

/** How each pass begins with a part. A pass that other threads take part in is a line here. */
const workers: {
  readonly [P in PassWork['pass']]: (work: WorkOf<P>, store: EntryStore) => Promise<() => PartWorker>;
} = {
  check: async (work, store) => {
    const model = link(work.definition, work.contentTerms);
    const checker = await checkerFor(model, work);
    return () => new CheckPart(store, model, checker);
  },
  profile: async (work) => {
    const model = link(work.definition, work.contentTerms);
    return () => new ProfilePart(model, work.types);
  },
  ahead: async (work) => {
    const model = link(work.definition, work.contentTerms);
    const checker = await checkerFor(model, work);
    return () => new AheadPart(model, checker);
  },
  rehearse: async (work, store) => {
    const plan = await planAgain(work);
    const checker = await checkerFor(plan.after, work);
    return () => new RehearsePart(store, { plan, checker });
  },
  digest: async () => () => new DigestPart(),
  addresses: async () => () => new AddressesPart(),
  learn: async (work) => () => new LearnPart(work.tables),
};

/**
 * Prepares passes to work on whole parts of a store, in any thread.
 * @returns the function that works on a part; its pause lets others work in between.
 */
export async function prepareWork(
  passes: readonly PassWork[],
  store: EntryStore,
  memory: MemorySpace | undefined,
): Promise<(partAsked: PartAsked, pause?: () => Waiting) => Promise<PartDone>> {
  const begins = await Promise.all(passes.map((work) => workers[work.pass](work as never, store)));

  return async ({ part, key }, pause) => {
    const before = memory && (key ?? store.fingerprint?.(part));
    const working = begins.map((begin) => begin());
    let count = 0;
    await eachItem(store, part, (item) => {
      count += 1;
      let waiting = pause?.();
      for (const partWorker of working)
        if ('entry' in item) waiting = both(waiting, partWorker.see(item));
        else partWorker.unreadable(item);

      return waiting;
    });
    const results = working.map((partWorker) => partWorker.done(before !== undefined));
    const [created, rest] = [results.map((result) => result.made), results.map((result) => result.rest)];
    // What changed while it was read is kept under no name.
    const isLasting = results.every((result) => result.isLasting === true) && store.fingerprint?.(part) === before;
    if (memory && before !== undefined && isLasting) keepPart(memory, before, { made: created, count, part }, rest);

    return { made: created, rest, count, key: before };
  };
}
