import { parentPort, workerData } from 'node:worker_threads';
import { restoreBuiltInKeys } from './core/definition/builtIn.ts';
import { link } from './core/model/link.ts';
import { setLimits } from './core/plain/limits.ts';
import { checkerFor } from './passes/check.ts';
import { CheckPart } from './passes/checkPart.ts';
import { both, eachItem } from './passes/eachItem.ts';
import type { PartDone, ThreadAnswer, ThreadStart } from './passes/threads.ts';
import type { PassWork } from './passes/work.ts';
import { openStore } from './stores/open.ts';
import type { EntryStore, Part, Stored, Unreadable } from './stores/store.ts';
import { Trouble } from './workspace/trouble.ts';

/* The program of another thread: it is told what passes want of entries, and does that with one part after another. */

/** A pass at work on one part. */
interface AtWork {
  readonly see: (stored: Stored) => Promise<void> | undefined;
  readonly unreadable: (item: Unreadable) => void;
  readonly done: () => unknown;
}

/** Prepares a pass. @returns what begins it anew for each part. */
async function prepare(work: PassWork, store: EntryStore): Promise<() => AtWork> {
  const model = link(work.definition, work.contentTerms);
  const checker = await checkerFor(model, work);
  return () => {
    const part = new CheckPart(store, model, checker);
    return {
      see: (stored) => part.see(stored),
      unreadable: (item) => part.unreadable(item),
      done: () => part.done(),
    };
  };
}

const { home, passes, limits, builtIn } = workerData as ThreadStart;
setLimits(limits);
restoreBuiltInKeys(builtIn);
const store = openStore(home);
const prepared = Promise.all(passes.map((work) => prepare(work, store)));

async function workOn(part: Part): Promise<PartDone> {
  const working = (await prepared).map((begin) => begin());
  let count = 0;
  await eachItem(store, part, (item) => {
    count += 1;
    let waiting: Promise<void> | undefined;
    for (const one of working)
      if ('entry' in item) waiting = both(waiting, one.see(item));
      else one.unreadable(item);
    return waiting;
  });
  return { made: working.map((one) => one.done()), count };
}

parentPort?.on('message', async (part: Part) => {
  let answer: ThreadAnswer;
  try {
    answer = { done: await workOn(part) };
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    answer = { trouble: error.data() };
  }
  parentPort?.postMessage(answer);
});
