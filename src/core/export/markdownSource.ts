import { isList, isObject, type Json } from '../plain/json.ts';

/** A value as it is written on one line. */
export const sayValue = (value: Json): string => {
  if (isObject(value) || isList(value)) return JSON.stringify(value);
  return String(value);
};

/** A text that means itself in Markdown, on one line. */
export const line = (text: string): string =>
  text.replace(/\s+/gu, ' ').replace(/[\\`*_{}[\]<>#|~&]/gu, (sign) => `\\${sign}`);

/** A text as Markdown paragraphs. */
export const paragraphs = (text: string): string =>
  text
    .split(/\n\s*\n/u)
    .map(line)
    .join('\n\n');

/** A text as a Markdown quotation. */
export const quoted = (text: string): string =>
  text
    .split('\n')
    .map((text) => `> ${line(text)}`.trimEnd())
    .join('\n');

/** A text as code: with as many signs around it as it needs, and none that would end a cell. */
export function code(text: string): string {
  const plain = text.replace(/\s+/gu, ' ');
  const longest = Math.max(0, ...[...plain.matchAll(/`+/gu)].map(([run]) => run.length));
  const fence = '`'.repeat(longest + 1);
  const gap = /^`|`$/u.test(plain) ? ' ' : '';
  return `${fence}${gap}${plain.replaceAll('|', '\\|')}${gap}${fence}`;
}
