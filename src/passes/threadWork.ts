import { parentPort, workerData } from 'node:worker_threads';
import { restoreBuiltInKeys } from '../core/definition/builtIn.ts';
import { setLimits } from '../core/plain/limits.ts';
import { openStore } from '../stores/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import { type PartAsked, prepareWork } from './partWork.ts';
import type { ThreadAnswer, ThreadStart } from './threads.ts';

/** What another thread does: it is reported what passes want of entries, and does that with one part after another, in the order in which they come. */
export function workOnParts(afterEach: () => void): void {
  const { home, passes, memory, limits, builtIn } = workerData as ThreadStart;
  setLimits(limits);
  restoreBuiltInKeys(builtIn);
  const work = prepareWork(passes, openStore(home), memory);

  const answerTo = async (partAsked: PartAsked): Promise<void> => {
    let answer: ThreadAnswer;
    try {
      answer = { done: await (await work)(partAsked) };
    } catch (error) {
      if (!(error instanceof Trouble)) throw error;
      answer = { trouble: error.data() };
    }

    parentPort?.postMessage(answer);
    afterEach();
  };

  let before = Promise.resolve();
  parentPort?.on('message', (partAsked: PartAsked) => {
    before = before.then(() => answerTo(partAsked));
  });
}
