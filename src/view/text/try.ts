import { shellWord } from '../../core/plain/shellWord.ts';
import type { TryResult } from '../../tasks/try.ts';
import { type Look, next, oneLine, table } from '../look.ts';

/** What an expression gives: alone, or for entries side by side. */
export function tryText({ rows, more }: TryResult, look: Look): string {
  const { paint, width } = look;
  const shown = ({ value, failed }: TryResult['rows'][number]): string => {
    if (failed === undefined) return oneLine(value ?? null, width);
    return paint.bad(failed);
  };
  const [first] = rows;
  if (rows.length === 1 && first?.entry === undefined && first) return `${shown(first)}\n`;
  if (rows.length === 0) return 'There is no entry of that type yet.\n';
  return `${table(
    [{ title: 'Entry' }, { title: 'Gives', flex: true }],
    rows.map((row) => [paint.name(row.entry ?? ''), shown(row)]),
    look,
    '',
  )}\n${more.length === 0 ? '' : next(`lumbrik try … ${more.map(shellWord).join(' ')} --limit 0`, 'tries all entries: there are more', look)}`;
}
