import { list } from '../../core/plain/words.ts';
import type { EntryRevisionResult } from '../../tasks/entryRevision.ts';
import { glyphs, type Look, next } from '../look.ts';

/** Which recorded model the entries obey, and which they would. */
export function entryRevisionText({ file, recorded, said, fits }: EntryRevisionResult, look: Look): string {
  const { paint } = look;
  const would =
    fits.length === 0
      ? '  By what they hold, they obey none without a mistake.\n'
      : `  By what they hold, they obey ${list(fits.map(({ name }) => name))} without a mistake.\n`;
  if (said)
    return `${paint.good(glyphs.fine)} ${paint.strong(`The entries obey ${said.name}`)}, as you say: recorded in ${paint.name(file)}\n${fits.some(({ hash }) => hash === said.hash) ? '' : would}`;
  const known = fits.find(({ hash }) => hash === recorded);
  if (recorded !== undefined)
    return known
      ? `${paint.good(glyphs.fine)} ${paint.strong(`The entries obey ${known.name}`)}, and ${paint.name(file)} says so\n`
      : `${paint.warn(glyphs.warn)} ${paint.name(file)} says that the entries obey model ${recorded.slice(0, 12)}\n${would}`;
  return `${paint.warn(glyphs.warn)} ${paint.strong('Not recorded')}: ${file} is not there\n${would}${next('lumbrik entry revision <number>', 'to say which they obey', look)}`;
}
