import { nameText } from './sqlText.ts';
import type { Column } from './table.ts';

/** A text as a part of a pattern that matches just it. */
export const escaped = (text: string): string => text.replace(/[\\^$.*+?()[\]{}|]/gu, '\\$&');

/** Whether a condition speaks of any of some columns. */
export function mentions(columns: readonly Column[]): (text: string) => boolean {
  const names = columns.map(({ name }) => word(escaped(nameText(name))));
  return (text) => besideTexts(text).some((part) => names.some((name) => name.test(part)));
}

/** A condition in which columns have other names. */
export function withNames(text: string, names: ReadonlyMap<string, string>): string {
  const otherNames = new Map(
    [...names].flatMap(([from, to]) => (from === to ? [] : [[nameText(from), nameText(to)] as const])),
  );
  if (otherNames.size === 0) return text;

  const name = word([...otherNames.keys()].map(escaped).join('|'), 'gu');
  return text
    .split(quoted)
    .map((part) => (part.startsWith("'") ? part : part.replace(name, (match) => otherNames.get(match) ?? match)))
    .join('');
}

/** A text in a condition, in its quotation marks: nothing in it is a name. */
const quoted = /('(?:[^']|'')*')/u;

const besideTexts = (condition: string): readonly string[] =>
  condition.split(quoted).filter((part) => !part.startsWith("'"));

/** A name as it is in a condition: no part of a longer one. */
const word = (pattern: string, flags = 'u'): RegExp =>
  new RegExp(`(?<![\\p{L}\\p{N}_"'])(?:${pattern})(?![\\p{L}\\p{N}_"'])`, flags);
