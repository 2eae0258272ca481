import { entryAddressOf } from '../../core/entry/entry.ts';
import { cellOf, listSeparator, written } from '../../core/plain/cells.ts';
import { isObject, type Json, ownValue } from '../../core/plain/json.ts';
import type { ListResult } from '../../tasks/list.ts';
import { code, escaped } from '../markdown/markdown.ts';

/**
 * Rows as CSV (RFC 4180), exact: values as they are stored. The keys of objects that are there once, and languages, are
 * columns with dots; the items of lists are in one cell with a separator between them; all else is JSON. A store of the
 * kind `csv` reads it again, but for a number alone in free JSON, which it takes for a text.
 */
function* csv({ columns, rows }: ListResult): Iterable<string> {
  const opened = columns.filter((column) => column.opened.length > 0);
  const names = columns.flatMap((column) => {
    if (column.opened.length === 0) return [column.name];
    const inside = new Set<string>();
    for (const { values } of rows) for (const name of partsOf(column, values).keys()) inside.add(name);
    if (inside.size === 0) return [column.name];
    return [...inside];
  });
  const columnNames = [...new Set(['type', 'id', ...names])];
  const line = (cells: readonly string[]): string => `${cells.map((cell) => written(cell, ',', false)).join(',')}\r\n`;
  yield line(columnNames);

  for (const { entry, values } of rows) {
    const { type, id } = entryAddressOf(entry);
    const parts = new Map<string, Json>([
      ['type', type],
      ['id', id],
    ]);
    for (const column of opened) for (const [name, value] of partsOf(column, values)) parts.set(name, value);
    yield line(
      columnNames.map((name) => cellOf(parts.has(name) ? parts.get(name) : ownValue(values, name), listSeparator)),
    );
  }
}

/** What is in a column, by the columns that it is in a table. */
function partsOf(
  { name, opened }: ListResult['columns'][number],
  values: ListResult['rows'][number]['values'],
): ReadonlyMap<string, Json> {
  const parts = new Map<string, Json>();
  const part = (path: string, value: Json): void => {
    if (!isObject(value) || !opened.includes(path)) parts.set(path, value);
    else for (const [key, item] of Object.entries(value)) part(`${path}.${key}`, item);
  };

  const value = values[name];
  if (value !== undefined) part(name, value);
  return parts;
}

/** Rows as a table of Markdown, in words. */
function* markdown({ columns, rows }: ListResult): Iterable<string> {
  yield `| Entry | ${columns.map(({ label }) => escaped(label)).join(' | ')} |\n`;
  yield `| --- | ${columns.map(({ isNumber }) => (isNumber ? '---:' : '---')).join(' | ')} |\n`;
  for (const { entry, says: definition } of rows)
    yield `| ${code(entry)} | ${columns.map(({ name }) => escaped((definition[name] ?? '').trim())).join(' | ')} |\n`;
}

/** The forms in which a list is reported beside text and JSON. */
export const listReports = { csv, markdown };
