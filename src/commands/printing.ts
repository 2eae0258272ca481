import { once } from 'node:events';

/** Prints a text, no faster than it is taken: all together may be more than memory holds. */
export function print(text: string): Promise<void> | undefined {
  return process.stdout.write(text) ? undefined : once(process.stdout, 'drain').then(() => undefined);
}
