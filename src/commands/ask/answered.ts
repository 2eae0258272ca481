import { stopped } from '../../workspace/interrupt.ts';

/** Waits for an answer on a terminal. @throws {Trouble} where Ctrl-C was pressed instead. */
export async function answered<T>(answer: Promise<T>): Promise<T> {
  try {
    return await answer;
  } catch (error) {
    if (!(error instanceof Error) || error.name !== 'ExitPromptError') throw error;
    throw stopped('Earlier answers stay written; no other file was changed.');
  }
}
