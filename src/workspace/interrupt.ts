import { exitCodes } from './exitCodes.ts';
import { Trouble } from './trouble.ts';

/** How often long work lets signals in, in milliseconds: so long may Ctrl-C take. */
const interval = 100;

/** Ctrl-C during long work: the work is asked to stop where nothing is half done. */
export class Interrupt {
  /** Aborted once somebody presses Ctrl-C, which is the reason. */
  readonly signal: AbortSignal;
  readonly #stop: () => void;
  #last = Date.now();

  /** @param until stops the work like Ctrl-C does, with its reason. */
  constructor(until?: AbortSignal) {
    const controller = new AbortController();
    this.#stop = () => controller.abort(stopped('Nothing was changed.'));
    this.signal = until ? AbortSignal.any([controller.signal, until]) : controller.signal;
    process.once('SIGINT', this.#stop);
  }

  /** Whether it is time to let signals in. */
  isDue(): boolean {
    const now = Date.now();
    if (now - this.#last < interval) return false;
    this.#last = now;
    return true;
  }

  /** Lets signals in. @throws {Trouble} where one of them stops the work. */
  async listen(): Promise<void> {
    await new Promise((resolve) => setImmediate(resolve));
    this.signal.throwIfAborted();
  }

  end(): void {
    process.off('SIGINT', this.#stop);
  }
}

/** What stops work at Ctrl-C. @param mend what is left behind. */
export const stopped = (mend: string): Trouble =>
  new Trouble('stopped', 'stopped, as you asked', { mend, exit: exitCodes.stopped });

/** Handles Ctrl-C in another way while something lasts. */
export async function handlingInterrupt<T>(handle: () => void, work: () => Promise<T>): Promise<T> {
  process.on('SIGINT', handle);
  try {
    return await work();
  } finally {
    process.off('SIGINT', handle);
  }
}
