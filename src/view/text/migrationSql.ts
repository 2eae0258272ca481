import { count, list } from '../../core/plain/words.ts';
import type { MigrationSqlResult } from '../../tasks/migration/sql.ts';
import { glyphs, type Look, next } from '../look.ts';
import { lossesText } from './export.ts';
import { unreadText } from './unread.ts';

/** That a migration was reported as statements of SQL, and what these do to tables. */
export function migrationSqlText(result: MigrationSqlResult, look: Look): string {
  const { out: outFile = '', entries, file, from, to, tables, number } = result;
  const { paint } = look;
  const { kept: stored, made: createdCount, gone: goneCount } = tables;
  const parts = [
    ...(stored > 0 ? [`${count(stored, 'table')} changed where ${stored === 1 ? 'it stands' : 'they stand'}`] : []),
    ...(createdCount > 0 ? [`${createdCount} made anew with all ${createdCount === 1 ? 'its' : 'their'} rows`] : []),
    ...(goneCount > 0 ? [`${goneCount} gone`] : []),
  ];

  return [
    sqlLeftText(result, look),
    `${paint.good(glyphs.fine)} ${paint.strong(outFile)} is written: SQL from ${from} to ${to}\n  ${paint.soft(file)}\n`,
    `  ${count(entries, 'entry', 'entries')}; ${parts.length > 0 ? list(parts) : 'no table changes, but rows do'}\n`,
    next(
      `psql -v ON_ERROR_STOP=1 -f ${outFile}`,
      'brings a database along that holds the entries as they are now',
      look,
    ),
    next(`lumbrik migration run ${number}`, 'brings the entries along', look).trimStart(),
  ].join('');
}

/** What no column holds, and what is no entry. */
export const sqlLeftText = ({ lost, unreadable }: MigrationSqlResult, look: Look): string =>
  lossesText({ lost, as: 'SQL' }, look) + unreadText(unreadable, look);
