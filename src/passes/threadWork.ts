import { parentPort, workerData } from 'node:worker_threads';
import { openStore } from '../stores/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import { LocalWorker, type PartTask } from './localWorker.ts';
import type { Job, ThreadAnswer } from './threads.ts';
import { workNamed } from './works.ts';

/** What another thread does: it works on one part after another, in the order in which they come. */
export function workOnParts(afterEach: () => void): void {
  const { home, requests, memory } = workerData as Job;
  const store = openStore(home);
  const prepare = () => Promise.all(requests.map(({ work, data }) => workNamed(work).prepare(data, store)));
  const worker = new LocalWorker({ store, prepare, memory });

  const answerTo = async (task: PartTask): Promise<void> => {
    try {
      await worker.workOn(task, (done) => answer({ done }));
    } catch (error) {
      if (!(error instanceof Trouble)) throw error;
      answer({ trouble: error.data() });
    }

    afterEach();
  };

  let before = Promise.resolve();
  parentPort?.on('message', (task: PartTask) => {
    before = before.then(() => answerTo(task));
  });
}

const answer = (threadAnswer: ThreadAnswer): void => parentPort?.postMessage(threadAnswer);
