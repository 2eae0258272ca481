import { glyphs, type Look } from '../look.ts';

/** What changed before a check, and how long that took; nothing above the first. */
export function changedText(files: readonly string[], milliseconds: number, { paint, width }: Look): string {
  if (files.length === 0) return '';
  const [first = ''] = files;
  const andMore = files.length > 1 ? ` and ${files.length - 1} more` : '';
  const title = `${glyphs.dot} ${first}${andMore} changed, checked in ${Math.round(milliseconds)} ms `;
  return `\n${paint.soft(title + '─'.repeat(Math.max(3, Math.min(width, 100) - title.length)))}\n\n`;
}
