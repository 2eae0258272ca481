import { link } from '../core/model/link.ts';
import type { EntryStore, Part } from '../stores/store.ts';
import { keepPart, type MemorySpace } from '../workspace/partMemory.ts';
import { checkerFor } from './checker.ts';
import { CheckPart, isTimeless, type PartChecked } from './checkPart.ts';
import { both, eachItem, type Waiting } from './eachItem.ts';
import type { PassWork } from './work.ts';

/** A part that is to be worked on, with what its result is kept under, where that is known by now. */
export interface PartAsked {
  readonly part: Part;
  readonly key?: string | undefined;
}

/** What was made of a part: one thing for each pass. */
export interface PartDone {
  readonly made: readonly unknown[];
  /** How many things were read. */
  readonly count: number;
  /** What it is kept under, where it may be. */
  readonly key?: string | undefined;
}

/**
 * Prepares passes to work on whole parts of a store, in any thread.
 * @returns what works on a part; what it is given as a pause lets others do something in between.
 */
export async function prepareWork(
  passes: readonly PassWork[],
  store: EntryStore,
  memory: MemorySpace | undefined,
): Promise<(asked: PartAsked, pause?: () => Waiting) => Promise<PartDone>> {
  const begins = await Promise.all(
    passes.map(async (work) => {
      const model = link(work.definition, work.contentTerms);
      const checker = await checkerFor(model, work);
      return () => new CheckPart(store, model, checker);
    }),
  );

  return async ({ part, key }, pause) => {
    const before = memory && (key ?? store.fingerprint?.(part));
    const working = begins.map((begin) => begin());
    let count = 0;
    await eachItem(store, part, (item) => {
      count += 1;
      let waiting = pause?.();
      for (const one of working)
        if ('entry' in item) waiting = both(waiting, one.see(item));
        else one.unreadable(item);
      return waiting;
    });
    const done = { made: working.map((one): PartChecked => one.done()), count };
    // What changed while it was read is kept under no name.
    if (memory && before !== undefined && done.made.every(isTimeless) && store.fingerprint?.(part) === before)
      keepPart(memory, before, { ...done, part });
    return { ...done, key: before };
  };
}
