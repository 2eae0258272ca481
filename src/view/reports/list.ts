import { cellOf, flattened, written } from '../../core/plain/cells.ts';
import { isObject, type Json } from '../../core/plain/json.ts';
import type { ListResult } from '../../tasks/list.ts';
import { code, escaped } from '../markdown/markdown.ts';

/** Between the items of a list in a cell. */
const separator = '; ';

/**
 * Rows as CSV (RFC 4180), exact: values as they are stored, the keys of objects and languages as columns with dots, the
 * items of lists with a separator between them. A store of the kind `csv` reads it again.
 */
function* csv({ columns, rows }: ListResult): Iterable<string> {
  const names = columns.flatMap(({ name }) => {
    const inside = new Set<string>();
    for (const { values } of rows) for (const [column] of parts(name, values[name])) inside.add(column);
    return inside.size === 0 ? [name] : [...inside];
  });
  const all = ['type', 'id', ...names.filter((name) => name !== 'type' && name !== 'id')];
  const line = (cells: readonly string[]): string => `${cells.map((cell) => written(cell, ',', false)).join(',')}\r\n`;
  yield line(all);
  for (const { entry, values } of rows) {
    const slash = entry.indexOf('/');
    const cells = new Map<string, Json>([
      ['type', entry.slice(0, slash)],
      ['id', entry.slice(slash + 1)],
    ]);
    for (const { name } of columns) for (const [column, value] of parts(name, values[name])) cells.set(column, value);
    yield line(all.map((name) => cellOf(cells.get(name), separator)));
  }
}

/** What a value is in columns: one, or one for each key of an object and each language. */
function parts(name: string, value: Json | undefined): Iterable<readonly [column: string, value: Json]> {
  if (value === undefined) return [];
  return isObject(value) ? flattened({ [name]: value }, new Set()) : [[name, value]];
}

/** Rows as a table of Markdown, in words. */
function* markdown({ columns, rows }: ListResult): Iterable<string> {
  yield `| Entry | ${columns.map(({ label }) => escaped(label)).join(' | ')} |\n`;
  yield `| --- | ${columns.map(({ kind }) => (kind === 'integer' || kind === 'decimal' ? '---:' : '---')).join(' | ')} |\n`;
  for (const { entry, says } of rows)
    yield `| ${code(entry)} | ${columns.map(({ name }) => escaped((says[name] ?? '').trim())).join(' | ')} |\n`;
}

/** The forms in which a list is told beside text and JSON. */
export const listReports = { csv, markdown };
