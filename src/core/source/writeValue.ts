import { isScalar, type Node, Scalar, stringify } from 'yaml';
import { compact, isList, isObject, type Json } from '../plain/json.ts';
import { writeYaml } from './write.ts';

/** How a value is written into a text that is there. */
export interface Writing {
  readonly text: string;
  readonly format: 'yaml' | 'json';
  readonly eol: string;
  readonly strings: 'plain' | 'quoted';
  /** How JSON is set that is on one line, and stays there. */
  readonly oneLine?: OneLine | undefined;
  /** How wide folded lines are; not folded where nothing is stated. */
  readonly lineWidth?: number;
}

/** The text after colons and commas, and inside braces: a blank or nothing. */
interface OneLine {
  readonly gap: string;
  readonly padding: string;
}

/** How a text of JSON is set, where it is an object with something in it on one line. */
export function oneLineOf(text: string): OneLine | undefined {
  const [, padding, gap] = /^\s*\{([ \t]*)"(?:[^"\\]|\\.)*"\s*:([ \t]*)[^\r\n]*$/u.exec(text.trimEnd()) ?? [];
  if (padding === undefined || gap === undefined) return undefined;
  return { gap: gap.slice(0, 1), padding: padding.slice(0, 1) };
}

/** A key and its value as JSON. */
export const jsonPair = (key: string, value: Json, write: Writing, indent: string): string =>
  `${JSON.stringify(key)}:${write.oneLine?.gap ?? ' '}${flowText(value, write, indent)}`;

/** An object of JSON that has one key. */
export function jsonObject(key: string, value: Json, write: Writing): string {
  const { eol, oneLine } = write;
  const [before, after] = oneLine ? [oneLine.padding, oneLine.padding] : [`${eol}  `, eol];
  return `{${before}${jsonPair(key, value, write, '  ')}${after}}`;
}

/** A value on one line. */
export function inOneLine(value: Json, look: OneLine): string {
  const { gap, padding } = look;
  if (gap === '' && padding === '') return JSON.stringify(value);
  if (isList(value)) return `[${value.map((item) => inOneLine(item, look)).join(`,${gap}`)}]`;
  if (!isObject(value) || Object.keys(value).length === 0) return JSON.stringify(value);
  const pairs = Object.entries(value).map(([key, item]) => `${JSON.stringify(key)}:${gap}${inOneLine(item, look)}`);
  return `{${padding}${pairs.join(`,${gap}`)}${padding}}`;
}

/** The offset at which the line of an offset starts. */
export const lineStart = (text: string, offset: number): number => text.lastIndexOf('\n', offset - 1) + 1;
/** The column of an offset, counted from 0. */
export const columnOf = (text: string, offset: number): number => offset - lineStart(text, offset);
/** The blanks at the start of the line of an offset. */
export const indentAt = (text: string, offset: number): string =>
  /^[ \t]*/u.exec(text.slice(lineStart(text, offset)))?.[0] ?? '';

/** A plain value as text, quoted as the one it replaces was. */
export function scalarText(value: Json, old: Node, { format, strings }: Writing, inBrackets: boolean): string {
  if (typeof value !== 'string' || format === 'json' || strings === 'quoted') return JSON.stringify(value);
  const style = isScalar(old) ? old.type : undefined;
  if (style === 'QUOTE_DOUBLE') return JSON.stringify(value);
  if (style === 'QUOTE_SINGLE' && /^[\x20-\x7E\u00A0-\uD7FF\uE000-\uFEFE]*$/u.test(value))
    return `'${value.replaceAll("'", "''")}'`;
  if (inBrackets && /[,[\]{}#:]/u.test(value)) return JSON.stringify(value);
  return oneLine(value);
}

/** A key as YAML. */
export const stringifyKey = (key: string): string => oneLine(key);
const oneLine = (value: string): string =>
  withoutLineEnd(
    stringify(
      value,
      compact({ lineWidth: 0, defaultStringType: value.includes('\n') ? ('QUOTE_DOUBLE' as const) : undefined }),
    ),
  );

const withoutLineEnd = (text: string): string => text.replace(/\n$/u, '');

/** A text that was in a block (`>` or `|`) stays in one, folded about as wide as before. */
export function inStyleOf(
  old: Node | null,
  text: string,
  value: Json,
): { readonly value: Json | Scalar; readonly width: number } {
  if (typeof value !== 'string' || !isScalar(old) || (old.type !== 'BLOCK_FOLDED' && old.type !== 'BLOCK_LITERAL'))
    return { value, width: 0 };

  const scalar = new Scalar(value);

  scalar.type = old.type;
  const [start, end] = old.range ?? [0, 0];
  const longest = Math.max(
    40,
    ...text
      .slice(start, end)
      .split(/\r?\n/u)
      .map((line) => line.length),
  );

  return { value: scalar, width: old.type === 'BLOCK_FOLDED' ? longest : 0 };
}

/** `key: value` in block style; lines after the first are indented by `column` spaces. */
export function blockText(key: string, value: Json | Scalar, column: number, write: Writing): string {
  const { eol, strings, lineWidth = 0 } = write;
  // JSON is YAML: what cannot be written plainly is written as JSON on one line.
  if (strings === 'quoted') return `${key}: ${JSON.stringify(value instanceof Scalar ? value.value : value)}`;

  const text = withoutLineEnd(stringify({ key: value }, { lineWidth, indentSeq: true }));
  const [first = '', ...rest] = text.slice('key'.length).split('\n');
  const indent = ' '.repeat(column);
  return [key + first, ...rest.map((line) => (line === '' ? line : indent + line))].join(eol);
}

/** A value inside brackets: JSON for JSON, YAML's flow style otherwise. */
export function flowText(value: Json, write: Writing, indent: string, isPadded = true): string {
  const { format, eol, strings, oneLine } = write;
  if (format === 'yaml' && strings === 'quoted') return JSON.stringify(value);
  if (format === 'yaml')
    return withoutLineEnd(
      stringify(value, {
        collectionStyle: 'flow',
        lineWidth: 0,
        defaultKeyType: 'PLAIN',
        flowCollectionPadding: isPadded,
      }),
    );
  if (oneLine) return inOneLine(value, oneLine);
  return JSON.stringify(value, undefined, 2)
    .split('\n')
    .map((line, index) => (index === 0 ? line : indent + line))
    .join(eol);
}

/** `key: value` or `- value` as a person would write it anew: short parts in brackets, the rest in lines. */
export function freshText(value: Json, column: number, { eol }: Writing): string {
  const indent = ' '.repeat(column);
  return withoutLineEnd(writeYaml(value))
    .split('\n')
    .map((line) => (line === '' ? line : indent + line))
    .join(eol);
}
