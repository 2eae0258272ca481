import { count } from '../../core/plain/words.ts';
import type { ExportEntriesResult } from '../../tasks/exportEntries.ts';
import type { ExportResult } from '../../tasks/exportModel.ts';
import { glyphs, type Look, next } from '../look.ts';

/** A model in another format; or that the file which keeps it is up to date, or was brought there. */
export function exportText(
  { format, types, text, call, file, current, lost = [] }: ExportResult,
  isCheck: boolean,
  look: Look,
): string | { readonly text: string; readonly note: string } {
  const { paint } = look;
  const losses = lost
    .map(
      ({ says: message, count: times }) =>
        `${paint.warn(glyphs.warn)} Left out: ${message} ${paint.soft(`· ${times}`)}\n`,
    )
    .join('');
  if (file === undefined) return losses === '' ? text : { text, note: losses };

  const subject = `${count(types.length, format.startsWith('SKOS') ? 'taxonomy' : 'type', format.startsWith('SKOS') ? 'taxonomies' : undefined)} as ${format}`;
  if (current) return `${paint.good(glyphs.fine)} ${paint.strong(file)} is up to date: ${subject}\n`;
  if (!isCheck) return `${losses}${paint.good(glyphs.fine)} ${paint.strong(file)} is written: ${subject}\n`;
  return `${paint.bad(glyphs.wrong)} ${paint.strong(file)} is not what the model says\n${next(`${call} --out ${file}`, 'writes it anew', look)}`;
}

/** That entries went out, behind what could not go with them. */
export function exportedEntriesText(result: ExportEntriesResult, look: Look): string {
  const { out: outFile, as, entries, types, files, leftOut } = result;
  const { paint } = look;
  const subject = `${count(entries, 'entry', 'entries')} of ${count(types.length, 'type')} as ${as}`;
  const among = files > 1 ? `, in ${count(files, 'file')}` : '';
  const andLeftOut = leftOut > 0 ? paint.soft(`; ${count(leftOut, 'entry', 'entries')} left out as requested`) : '';
  return `${lossesText(result, look)}${paint.good(glyphs.fine)} ${paint.strong(outFile ?? '')} is written: ${subject}${among}${andLeftOut}\n`;
}

/** What would be left out, before anything is written. */
export const onlyLossesText = (result: ExportEntriesResult, look: Look): string =>
  lossesText(result, look, 'would be left out') ||
  `${look.paint.good(glyphs.fine)} ${result.as} holds all of ${count(result.entries, 'entry', 'entries')}\n`;

/** What a spreadsheet would do with cells that begin as formulas do, and what to do about it. */
export function warningsText({ warnings }: Pick<ExportEntriesResult, 'warnings'>, look: Look): string {
  if (warnings.length === 0) return '';

  const { paint } = look;
  const lines = warnings.map(
    ({ says: message, entries, example }) =>
      `  ${message} ${paint.soft(`· ${count(entries, 'entry', 'entries')}, such as ${example}`)}\n`,
  );

  return `${paint.warn(glyphs.warn)} ${paint.strong('Spreadsheets compute cells that begin like these')}\n${lines.join('')}${next('--guard', 'puts an apostrophe before each', look)}\n`;
}

/** What a form cannot hold, one to a line. */
export const lossesText = (
  { lost, as }: Pick<ExportEntriesResult, 'lost' | 'as'>,
  { paint }: Look,
  outcome = 'was left out',
): string => {
  if (lost.length === 0) return '';
  return `${paint.warn(glyphs.warn)} ${paint.strong(`What ${as} cannot hold ${outcome}`)}\n${lost
    .map(
      ({ says: message, entries, example }) =>
        `  ${message} ${paint.soft(`· ${count(entries, 'entry', 'entries')}, such as ${example}`)}\n`,
    )
    .join('')}\n`;
};
