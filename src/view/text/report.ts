import { count, groupThousands, list } from '../../core/plain/words.ts';
import type { ReportResult } from '../../tasks/report.ts';
import { glyphs, type Look, wrap } from '../look.ts';
import { unreadText } from './unread.ts';

/** That a page was written, and what is on it. */
export function reportText(
  { types, taxonomies, check, advice, change, rehearsal, profile }: ReportResult,
  { file, bytes }: { readonly file: string; readonly bytes: number },
  look: Look,
): string {
  const { paint, width } = look;
  const parts = [
    count(types.length, 'type'),
    count(taxonomies.length, 'taxonomy', 'taxonomies'),
    `how ${count(check.entries, 'entry uses', 'entries use')} them`,
    count(check.findings.length, 'finding'),
    count(advice.advice.length, 'piece of advice', 'pieces of advice'),
    ...(change ? [`${count(change.changes.length, 'change')} from ${change.from.name} to ${change.to.name}`] : []),
    ...(rehearsal ? [`${rehearsal.file} rehearsed`] : []),
  ];

  return [
    `${paint.good(glyphs.fine)} ${paint.strong(file)} ${paint.soft(`${groupThousands(Math.ceil(bytes / 1024))} KB; one file that needs nothing beside it`)}\n`,
    `  ${wrap(list(parts), width - 2, '  ')}\n`,
    unreadText(profile.unreadable, look),
  ].join('');
}
