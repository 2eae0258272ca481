import { exitCodes } from '../../workspace/exitCodes.ts';
import { Trouble } from '../../workspace/trouble.ts';

/** Waits for an answer on a terminal. @throws {Trouble} where Ctrl-C was pressed instead. */
export async function stoppable<T>(answer: Promise<T>): Promise<T> {
  try {
    return await answer;
  } catch (error) {
    if (!(error instanceof Error) || error.name !== 'ExitPromptError') throw error;
    throw new Trouble('stopped', 'stopped, as you asked', {
      mend: 'Earlier answers stay written; no other file was changed.',
      exit: exitCodes.stopped,
    });
  }
}
