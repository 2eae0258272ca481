import { count } from '../../core/plain/words.ts';
import type { JournalsResult } from '../../tasks/migration/journals.ts';
import { glyphs, type Look, next, table } from '../look.ts';

const states = { running: 'stopped midway', done: 'run', undoing: 'stopped midway', undone: 'taken back' } as const;

/** The journals of runs with their sizes, the oldest first. */
export function journalsText({ journals, aside }: JournalsResult, look: Look): string {
  const { paint } = look;
  if (journals.length + aside.length === 0) return 'No run has left a journal.\n';

  const rows = journals.map(({ number, file, state, isUndo, date, bytes, emptied }) => [
    String(number),
    isUndo ? 'the way back' : states[state],
    date.slice(0, 16).replace('T', ' '),
    sizeText(bytes),
    emptied ? paint.warn('emptied') : '',
    paint.name(file.replace(/^migrations\/|\.yaml$/gu, '')),
  ]);
  const columns = [
    { title: 'No', align: 'right' },
    { title: 'State' },
    { title: 'Run (UTC)' },
    { title: 'Size', align: 'right' },
    { title: '' },
    { title: 'Migration' },
  ] as const;
  const emptied = journals.filter((journal) => journal.emptied);
  const total = journals.reduce((sum, { bytes }) => sum + bytes, 0);
  const freed = emptied.reduce((sum, { bytes }) => sum + bytes, 0);

  return [
    `${table(columns, rows, look, '')}\n\n`,
    emptied.length > 0
      ? `${paint.good(glyphs.fine)} ${paint.strong(`${sizeText(freed)} freed`)}: ${count(emptied.length, 'run', 'runs')} cannot be undone any more\n`
      : `${sizeText(total)} in all\n`,
    ...aside.map(({ folder, bytes }) => `${paint.warn(glyphs.warn)} ${folder} could not be read, ${sizeText(bytes)}\n`),
    emptied.length === 0 && journals.filter(({ bytes }) => bytes > 0).length > 1
      ? next('lumbrik migration journals --keep 1', 'to keep only what takes the last run back', look)
      : '',
  ].join('');
}

/** A size in the largest unit that fits: 1 kB is 1,000 bytes. */
function sizeText(bytes: number): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB'];
  let size = bytes;
  let unit = 0;
  while (size >= 1000 && unit < units.length - 1) {
    size /= 1000;
    unit += 1;
  }

  return `${unit === 0 || size >= 100 ? Math.round(size) : size.toFixed(1)} ${units[unit]}`;
}
