import { once } from 'node:events';
import { handlingInterrupt } from '../workspace/interrupt.ts';
import { startPager, usualPager } from '../workspace/platform.ts';

/**
 * Shows a text page by page where it is longer than the terminal, with the program that `PAGER` names (`less`, if nothing
 * is stated). @returns whether it did: where it is short, there is no terminal, or no such program, it has to be printed.
 */
export async function paged(text: string): Promise<boolean> {
  const { isTTY, rows } = process.stdout;
  const { PAGER: pager = usualPager(), TERM, LESS = 'FRX' } = process.env;
  if (!isTTY || TERM === 'dumb' || pager === '' || pager === 'cat' || lineCount(text) < (rows ?? 24)) return false;

  const child = startPager(pager, { LESS });
  // Anyone who has read enough leaves before the end; Ctrl-C is the pager's own.
  child.stdin.on('error', () => undefined);
  return handlingInterrupt(ignore, async () => {
    child.stdin.end(text);
    const [code] = (await Promise.race([once(child, 'close'), once(child, 'error').then(() => [127])])) as [number];
    return code !== 127;
  });
}

const ignore = (): void => undefined;

const lineCount = (text: string): number => text.split('\n').length;
