import { count } from '../../core/plain/words.ts';
import { glyphs, type Look, next } from '../look.ts';

/** That some things could not be read as entries, and so are not in the report. */
export function unreadText(unreadable: number, look: Look): string {
  if (unreadable === 0) return '';
  const subject = count(unreadable, 'file or line', 'files or lines');
  const message = `${subject} could not be read as an entry, and ${unreadable === 1 ? 'is' : 'are'} not counted`;
  return `\n${look.paint.warn(glyphs.warn)} ${message}\n${next('lumbrik check', 'to see the problems there', look)}`;
}
