import { groupThousands } from '../core/plain/words.ts';

const patience = 500;
const between = 100;

/** What was read since the last time, and how much of all that is by now, where that is known. */
interface Read {
  readonly count: number;
  readonly share: number;
}

/**
 * Tells on standard error how many entries were read, how fast, and how long it will take where that can be told: on a
 * terminal only, and only once it lasts.
 */
export function watchProgress(isQuiet: boolean): { readonly watch: (read?: Read) => void; readonly done: () => void } {
  const started = Date.now();
  let seen = 0;
  let shown = 0;
  const isShown = !isQuiet && process.stderr.isTTY === true;

  return {
    watch: (read) => {
      seen += read?.count ?? 1;
      const now = Date.now();
      if (!isShown || now - started < patience || now - shown < between) return;
      shown = now;
      process.stderr.write(`\r${progressText(seen, (now - started) / 1000, read?.share)}\u001B[K`);
    },
    done: () => {
      if (shown > 0) process.stderr.write('\r\u001B[K');
    },
  };
}

/** @param seconds since it began. @param share how much of all was read, from 0 to 1. */
export function progressText(seen: number, seconds: number, share: number | undefined): string {
  const rate = `${groupThousands(seen)} entries read, ${groupThousands(Math.round(seen / seconds))} a second`;
  if (share === undefined || share <= 0) return rate;
  const filled = Math.round(share * barWidth);
  const bar = `${'█'.repeat(filled)}${'░'.repeat(barWidth - filled)}`;
  return `${bar} ${rate}, ${sayLeft((seconds * (1 - share)) / share)} left`;
}

const barWidth = 20;

const sayLeft = (seconds: number): string =>
  seconds < 90 ? `${Math.ceil(seconds)} s` : `${Math.round(seconds / 60)} min`;
