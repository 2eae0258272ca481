import { once } from 'node:events';
import { visibleLines } from '../core/plain/visible.ts';

/**
 * Prints a text, no faster than it is taken: all together may be more than memory holds. On a terminal, what would act
 * there is shown instead.
 */
export function print(text: string): Promise<void> | undefined {
  if (process.stdout.write(process.stdout.isTTY ? visibleLines(text) : text)) return undefined;
  return once(process.stdout, 'drain').then(() => undefined);
}
