import type { Arguments } from '../answer.ts';
import type { Asker } from './asker.ts';

/** Whether to ask questions: if the call wants them, or on a terminal if the call answers none. */
export const isAsking = (args: Arguments, isSilent: boolean): boolean =>
  args.ask === true || (args.ask === undefined && isSilent && args.format !== 'json' && process.stdin.isTTY === true);

/** Opens questions: with arrow keys and search on a terminal, line by line anywhere else. */
async function openAsker(): Promise<Asker> {
  const isTerminal = process.stdin.isTTY === true && process.stderr.isTTY === true && process.env.TERM !== 'dumb';
  if (!isTerminal) return new (await import('./lines.ts')).LinesAsker();
  return new (await import('./terminal.ts')).TerminalAsker();
}

/** Asks with an asker, which is closed whatever happens. */
export async function asking<T>(work: (asker: Asker) => Promise<T>): Promise<T> {
  const asker = await openAsker();
  try {
    return await work(asker);
  } finally {
    asker.end();
  }
}
