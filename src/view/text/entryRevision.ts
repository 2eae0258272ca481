import { list } from '../../core/plain/words.ts';
import type { EntryRevisionResult } from '../../tasks/entryRevision.ts';
import { glyphs, type Look, next } from '../look.ts';

/** Which recorded model the entries obey, and which they would. */
export function entryRevisionText(
  { file, recorded, recordedAs, said: stated, fits: isFitting }: EntryRevisionResult,
  look: Look,
): string {
  const { paint } = look;
  const would =
    isFitting.length === 0
      ? '  By their content, they obey none without a mistake.\n'
      : `  By their content, they obey ${list(isFitting.map(({ name }) => name))} without a mistake.\n`;
  if (stated)
    return `${paint.good(glyphs.fine)} ${paint.strong(`The entries obey ${stated.name}`)}, as you say: recorded in ${paint.name(file)}\n${isFitting.some(({ hash }) => hash === stated.hash) ? '' : would}`;
  if (recorded !== undefined) {
    const name = recordedAs?.name ?? 'a model that no revision records';
    if (isFitting.some(({ hash }) => hash === recorded))
      return `${paint.good(glyphs.fine)} ${paint.strong(`The entries obey ${name}`)}, and ${paint.name(file)} says so\n`;
    const [fit] = isFitting;
    const advice = fit?.revision === undefined ? '' : next(`lumbrik entry revision ${fit.revision}`, 'if so', look);
    return `${paint.warn(glyphs.warn)} ${paint.name(file)} says that the entries obey ${name}\n${would}${advice}`;
  }
  return `${paint.warn(glyphs.warn)} ${paint.strong('Not recorded')}: ${file} is not there\n${would}${next('lumbrik entry revision <number>', 'to say which they obey', look)}`;
}
