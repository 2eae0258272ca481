import { groupThousands } from '../core/plain/words.ts';

const patience = 500;
const between = 100;

/** Tells on standard error how many entries were read: on a terminal only, and only once it lasts. */
export function watchProgress(isQuiet: boolean): { readonly watch: () => void; readonly done: () => void } {
  const started = Date.now();
  let seen = 0;
  let shown = 0;
  const isShown = !isQuiet && process.stderr.isTTY === true;

  return {
    watch: () => {
      seen += 1;
      const now = Date.now();
      if (!isShown || now - started < patience || now - shown < between) return;
      shown = now;
      process.stderr.write(`\r${groupThousands(seen)} entries read `);
    },
    done: () => {
      if (shown > 0) process.stderr.write('\r\u001B[K');
    },
  };
}
