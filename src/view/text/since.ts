import { count, groupThousands } from '../../core/plain/words.ts';
import type { CausedFinding, ChangeWithFindings, SinceResult } from '../../tasks/check/since.ts';
import { glyphs, type Look, next, sayPointer, wrap } from '../look.ts';

/** So many findings of a change are shown by default. */
const usualSince = 3;

/** What a change of the model causes, under the change that causes it; then what a migration would leave of it. */
export function sinceText(result: SinceResult, look: Look, limit = usualSince): string {
  const { paint } = look;
  const { from, to, entries, changes, harmless, gone: goneCount, migrations } = result;
  const sum = (countOf: (change: ChangeWithFindings) => number): number =>
    changes.reduce((sum, change) => sum + countOf(change), 0);
  const [errors, warnings, mended] = [
    sum((change) => change.errors),
    sum((change) => change.warnings),
    sum((change) => change.mended),
  ];
  const sides = `${from} ${glyphs.arrow} ${to}`;
  const aside = [
    harmless > 0 ? `${count(harmless, 'change')} of the model ${harmless === 1 ? 'causes' : 'cause'} nothing` : '',
    goneCount > 0 ? `${count(goneCount, 'finding')} of before ${goneCount === 1 ? 'is' : 'are'} gone` : '',
  ].filter(Boolean);
  const details = aside.map((line) => `  ${paint.soft(glyphs.dot)} ${line}\n`).join('');
  if (changes.length === 0)
    return `${paint.good(glyphs.fine)} ${paint.strong('Nothing new is wrong')}: ${count(entries, 'entry', 'entries')}, ${sides}\n${details}`;

  const open = errors + warnings - mended;
  const byMigration =
    migrations.length === 0
      ? ''
      : `; ${migrations.join(', ')} ${migrations.length === 1 ? 'mends' : 'mend'} ${open === 0 ? 'all of it' : `${groupThousands(mended)}, and leaves ${groupThousands(open)}`}`;

  return [
    changes.map((change) => changeText(change, limit, look)).join('\n'),
    `\n${result.ok ? `${paint.warn(glyphs.warn)}` : paint.bad(glyphs.wrong)} ${paint.strong([errors > 0 ? count(errors, 'error') : '', warnings > 0 ? count(warnings, 'warning') : ''].filter(Boolean).join(', '))} by the change of the model: ${count(entries, 'entry', 'entries')}, ${sides}${byMigration}\n`,
    details,
    migrations.length === 0
      ? next('lumbrik migration draft', 'to bring the entries along', look)
      : next('lumbrik migration rehearse', 'to see what it does', look),
  ].join('');
}

function changeText(
  { change, errors, warnings, mended, findings }: ChangeWithFindings,
  limit: number,
  look: Look,
): string {
  const { paint, width } = look;
  const title = change
    ? `${paint.name(change.address)}  ${wrap(change.says, width - change.address.length - 2, '  ')}`
    : paint.strong('No one change alone');
  const hints = [
    errors > 0 ? paint.bad(count(errors, 'error')) : '',
    warnings > 0 ? paint.warn(count(warnings, 'warning')) : '',
    mended > 0 ? paint.good(`${groupThousands(mended)} mended by the migration`) : '',
  ].filter(Boolean);
  const shown = limit === 0 ? findings : findings.slice(0, limit);
  const more = findings.length - shown.length;

  return [
    `${title}\n  ${hints.join(', ')}\n`,
    ...shown.map((finding) => findingText(finding, look)),
    more > 0 ? `    ${paint.soft(`and ${groupThousands(more)} more`)}\n` : '',
  ].join('');
}

function findingText(
  { entry, pointer, says: message, severity, isMended }: CausedFinding,
  { paint, width }: Look,
): string {
  const glyph = severity === 'error' ? paint.bad(glyphs.wrong) : paint.warn(glyphs.warn);
  const field = pointer === '' ? '' : `${sayPointer(pointer)} `;
  const after = isMended === true ? paint.good(' (mended)') : '';
  return `    ${isMended === true ? paint.good(glyphs.fine) : glyph} ${wrap(`${paint.strong(entry)}  ${field}${message}${after}`, width - 6, '      ')}\n`;
}
