import type { HistoryResult } from '../../tasks/history.ts';
import { glyphs, type Look, next, table } from '../look.ts';

/** The recorded revisions as a table, newest first; altered ones stand out. */
export function historyText({ revisions, changedSince }: HistoryResult, look: Look): string {
  const { paint } = look;
  if (revisions.length === 0)
    return `No revision is recorded yet.\n${next('lumbrik seal -m "The first model"', 'to record the model as it is', look)}`;
  const rows = revisions.map(
    ({ revision, version = '', date = '', message = '', hash = '', sound, entriesStandHere }) => [
      sound ? paint.good(glyphs.fine) : paint.bad(glyphs.wrong),
      String(revision),
      version,
      date.replace('T', ' ').replace('Z', ''),
      sound ? message : paint.bad('altered'),
      entriesStandHere ? 'entries' : '',
      paint.soft(hash.slice(0, 12)),
    ],
  );
  const columns = [
    { title: '' },
    { title: 'No', align: 'right' },
    { title: 'Version' },
    { title: 'Recorded (UTC)' },
    { title: 'Message', flex: true },
    { title: 'Obeyed by' },
    { title: 'Hash' },
  ] as const;
  const altered = revisions.flatMap(({ file, altered }) =>
    altered === undefined ? [] : [`${paint.bad(glyphs.wrong)} ${paint.strong(file)} was altered: ${altered}.\n`],
  );
  const advice =
    altered.length > 0 ? `  Bring the recorded file back from version control; revisions are never edited.\n` : '';
  const onward =
    altered.length === 0 && changedSince
      ? next('lumbrik diff', 'the working files say something else by now', look)
      : '';
  return `${table(columns, rows, look, '')}\n${altered.length > 0 ? '\n' : ''}${altered.join('')}${advice}${onward}`;
}
