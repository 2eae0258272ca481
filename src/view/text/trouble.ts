import type { ErrorResult } from '../../tasks/result.ts';
import { glyphs, type Look, wrap } from '../look.ts';

/** What stopped a command: what happened, where, and what to do. */
export function troubleText(
  { says: message, where, mend, also }: ErrorResult['error'],
  { paint, width }: Look,
): string {
  const isName = where !== undefined && message.startsWith(`${where.file} `);
  const lines = [`${paint.bad(glyphs.wrong)} ${wrap(isName ? message : capital(message), width - 2, '  ')}`];
  const isSaid = where !== undefined && where.line === undefined && message.includes(where.file);
  if (where && !isSaid) lines.push(`  ${paint.soft(placeText(where))}`);
  for (const name of also) lines.push(`  ${paint.soft(glyphs.dot)} ${wrap(name, width - 4, '    ')}`);
  if (mend !== '') lines.push(`  ${wrap(mend, width - 2, '  ')}`);
  return `${lines.join('\n')}\n`;
}

/** `model/types/lighthouse.yaml:4:3` */
export const placeText = ({ file, line, column }: NonNullable<ErrorResult['error']['where']>): string =>
  [file, line, column].filter((part) => part !== undefined).join(':');

/** The first letter large, unless it begins something that is typed as it is: `migrations/0001-….yaml`. */
const capital = (text: string): string => {
  if (/^[^\s]*[./`]/u.test(text)) return text;
  return text.charAt(0).toUpperCase() + text.slice(1);
};
