import { count } from '../../core/plain/words.ts';
import type { MergeResult } from '../../tasks/history/merge.ts';
import type { HistoryResult } from '../../tasks/history.ts';
import { glyphs, type Look, next, table, wrap } from '../look.ts';

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
    altered.length > 0
      ? `  Bring the recorded file back from version control; revisions are never edited.\n${next('lumbrik history --merge', 'where git merged two branches that both recorded one', look)}`
      : '';
  const onward = altered.length === 0 && changedSince ? next('lumbrik diff', 'the working files differ', look) : '';

  return `${table(columns, rows, look, '')}\n${altered.length > 0 ? '\n' : ''}${altered.join('')}${advice}${onward}`;
}

/** Two histories put into one order: what is called otherwise now, the removed parts, and what is left to do. */
export function mergeText(result: MergeResult, look: Look): string {
  const { paint, width } = look;
  const { revisions, migrations, entries, left: remaining, changedSince } = result;
  const renumbered = revisions.map(({ was: before, is: after, message }) =>
    before === after
      ? `  revision ${after} stays  ${paint.soft(message)}\n`
      : `  revision ${before} of the other branch is ${paint.strong(String(after))}  ${paint.soft(message)}\n`,
  );
  const files = migrations.flatMap(({ was: formerName, file, same, refused }) => [
    `  ${paint.soft(formerName)} ${glyphs.arrow} ${paint.name(file)}\n`,
    same > 0
      ? `    ${count(same, 'step was', 'steps were')} taken on both branches, and stand${same === 1 ? 's' : ''} once\n`
      : '',
    ...refused.map(
      ({ step, address, says: message }) =>
        `    ${paint.bad(glyphs.wrong)} ${wrap(`step ${step}, ${address}, does not go together with this branch and was taken out: ${message}`, width - 6, '      ')}\n`,
    ),
  ]);
  const lines = remaining.slice(0, 8).map((entry) => `    ${paint.name(entry)}\n`);

  return [
    `${paint.good(glyphs.fine)} ${paint.strong('One order')}\n`,
    ...renumbered,
    ...files,
    entries > 0
      ? `  ${count(entries, 'entry was', 'entries were')} brought forward by the steps of the other branch\n`
      : '',
    remaining.length > 0
      ? `\n${paint.bad(glyphs.wrong)} ${paint.strong(count(remaining.length, 'entry does', 'entries do'))} not come forward by the steps of either branch\n${lines.join('')}`
      : '',
    remaining.length > 0 ? next('lumbrik check', 'to see their problems', look) : '',
    changedSince ? next('lumbrik diff', 'the working files say something else than the last revision', look) : '',
    remaining.length === 0 && !changedSince ? next('git add -A && git commit', 'to complete the merge', look) : '',
  ].join('');
}
