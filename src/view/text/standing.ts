import { count, groupThousands, list } from '../../core/plain/words.ts';
import type { ShowResult } from '../../tasks/show/result.ts';
import { glyphs, type Look, next, padRight } from '../look.ts';
import { contentStateText } from './contentState.ts';

type Overview = Extract<ShowResult, { what: 'workspace' }>;

/** Where one stands, in few lines, and the one thing to do next. */
export function standingText(result: ShowResult, look: Look): string {
  if (result.what !== 'workspace') return '';

  const { workspace, languages, types, taxonomies, errors, warnings, changed, revision } = result;
  const { paint } = look;
  const entries = types.reduce((sum, type) => sum + type.entries, 0);
  const recorded = revision
    ? `revision ${revision.revision}, version ${revision.version}, of ${revision.date.slice(0, 10)}`
    : 'nothing is recorded yet';
  const wrong =
    errors > 0 ? `${paint.bad(glyphs.wrong)} ${count(errors, 'error')}` : `${paint.good(glyphs.fine)} no errors`;
  const rows: readonly (readonly [string, string])[] = [
    ['Model', `${count(types.length, 'type')}, ${count(taxonomies.length, 'taxonomy', 'taxonomies')}; ${recorded}`],
    ['Entries', `${groupThousands(entries)} in ${list(languages)}`],
    ['Check', `${wrong}${warnings > 0 ? `, ${count(warnings, 'warning')}` : ''}`],
    ...(changed.length > 0 ? [['Changed', changedText(changed, paint.soft)] as const] : []),
  ];
  const lines = rows.map(([title, text]) => `  ${paint.soft(padRight(title, 8))}${text}`);

  return `${paint.strong(workspace)}\n\n${lines.join('\n')}\n${toDo(result, look)}\n${paint.soft('lumbrik --help lists all commands')}\n`;
}

function changedText(changed: Overview['changed'], soft: (text: string) => string): string {
  const addresses = changed.slice(0, 3).map(({ address }) => address);
  const more = changed.length > addresses.length ? ` and ${changed.length - addresses.length} more` : '';
  return `${count(changed.length, 'change')} of the model since then  ${soft(addresses.join(', ') + more)}`;
}

/** The one thing that comes next. */
function toDo({ standing: state, errors, warnings, changed, types }: Overview, look: Look): string {
  if (types.length === 0) return next('lumbrik add type', 'to define what the content is made of', look);

  const moved = contentStateText(state, look);
  if (state.state === 'behind' || state.state === 'unknown') return moved;
  if (errors > 0) return next('lumbrik check', 'to see all problems, with remedies', look);
  if (changed.length > 0) return next('lumbrik diff', 'to see what the changes do to the entries', look);
  if (moved !== '') return moved;
  if (warnings > 0) return next('lumbrik check', 'to see the warnings', look);
  return next('lumbrik advice', 'to see what may be better in the model', look);
}
