import { count } from '../../core/plain/words.ts';
import type { SchemasResult } from '../../tasks/schemas.ts';
import { glyphs, type Look, next, wrap } from '../look.ts';

/** What was written of the schemas, or what would have to be. */
export function schemasText({ current, written, removed, named }: SchemasResult, isCheck: boolean, look: Look): string {
  const { paint, width } = look;
  const naming =
    named.length > 0
      ? `  ${count(named.length, 'file')} now ${named.length === 1 ? 'names its' : 'name their'} schema\n`
      : '';
  if (current) return `${paint.good(glyphs.fine)} ${paint.strong('The schemas are up to date')}\n${naming}`;

  const files = [...written, ...removed.map((file) => `${file} (gone)`)];
  const list = `  ${wrap(files.slice(0, 12).join(', ') + (files.length > 12 ? ` and ${files.length - 12} more` : ''), width - 2, '  ')}\n`;
  if (isCheck)
    return `${paint.bad(glyphs.wrong)} ${paint.strong(`${count(files.length, 'schema')} not up to date`)}\n${list}${next('lumbrik schemas', 'to write them', look)}`;
  return `${paint.good(glyphs.fine)} ${paint.strong(count(files.length, 'schema'))} written\n${list}${naming}`;
}
