import { count } from '../../core/plain/words.ts';
import type { ExportResult } from '../../tasks/exportModel.ts';
import { glyphs, type Look, next } from '../look.ts';

/** A model in another format; or that the file which keeps it is up to date, or was brought there. */
export function exportText(
  { format, types, text, call, file, current }: ExportResult,
  isCheck: boolean,
  look: Look,
): string {
  const { paint } = look;
  if (file === undefined) return text;
  const what = `${count(types.length, 'type')} as ${format}`;
  if (current) return `${paint.good(glyphs.fine)} ${paint.strong(file)} is up to date: ${what}\n`;
  if (!isCheck) return `${paint.good(glyphs.fine)} ${paint.strong(file)} is written: ${what}\n`;
  return `${paint.bad(glyphs.wrong)} ${paint.strong(file)} is not what the model says\n${next(`${call} --out ${file}`, 'writes it anew', look)}`;
}
