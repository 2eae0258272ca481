import { visible } from '../core/plain/visible.ts';
import { count, groupThousands } from '../core/plain/words.ts';
import type { FoundSoFar, ReadProgress } from '../passes/progress.ts';

const patience = 500;
const between = 100;

/**
 * Tells on standard error how many entries were read, how fast, how long it will take where that can be reported, and what
 * is wrong so far: on a terminal only, and only once it lasts.
 */
export function watchProgress(isQuiet: boolean): {
  readonly watch: (read: ReadProgress) => void;
  readonly done: () => void;
} {
  const started = Date.now();
  let count = 0;
  let shown = 0;
  const isShown = !isQuiet && process.stderr.isTTY === true;

  return {
    watch: (read) => {
      count += read.count;
      const currentTime = Date.now();
      if (!isShown || currentTime - started < patience || currentTime - shown < between) return;

      shown = currentTime;
      const columns = process.stderr.columns || 80;
      const text = progressText(count, (currentTime - started) / 1000, read.share, columns);
      const foundSoFar = read.found?.();
      const below = foundSoFar ? foundText(foundSoFar, columns) : '';
      process.stderr.write(`\r${text}\u001B[K${below && `\n${below}\u001B[K\r\u001B[A`}`);
    },
    done: () => {
      if (shown > 0) clearProgress();
    },
  };
}

/** Takes away the reports, such as before a question. */
export function clearProgress(): void {
  if (process.stderr.isTTY === true) process.stderr.write('\r\u001B[J');
}

/**
 * How far the reading is, in one line of a terminal. A narrow terminal shows no bar, a narrower one no speed.
 * @param seconds since it began. @param share how much of all was read, from 0 to 1.
 */
export function progressText(count: number, seconds: number, share = 0, columns = 80): string {
  const read = `${groupThousands(count)} entries read`;
  const rate = `${groupThousands(Math.round(count / seconds))} a second`;
  const filled = Math.round(share * barWidth);
  const bar = `${'█'.repeat(filled)}${'░'.repeat(barWidth - filled)} `;
  const left = share > 0 ? `, ${sayLeft((seconds * (1 - share)) / share)} left` : '';

  const texts = [`${share > 0 ? bar : ''}${read}, ${rate}${left}`, `${read}, ${rate}${left}`, `${read}${left}`];
  return texts.find((text) => text.length < columns) ?? read.slice(0, columns - 1);
}

/** The problems so far, in one line of a terminal. */
export function foundText({ count: number, latest }: FoundSoFar, columns = 80): string {
  const text = `${count(number, 'finding')} so far, the latest: ${visible(latest)}`;
  if (text.length < columns) return text;
  return `${text.slice(0, columns - 2)}…`;
}

const barWidth = 20;

const sayLeft = (seconds: number): string => {
  if (seconds < 90) return `${Math.ceil(seconds)} s`;
  return `${Math.round(seconds / 60)} min`;
};
