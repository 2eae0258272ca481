import type { Field, Model } from '../../core/model/link.ts';
import { fieldsWithin } from '../../core/model/nestedFields.ts';
import { isObject, type Json, type JsonObject, put } from '../../core/plain/json.ts';
import type { CellKind, CellKinds } from '../store.ts';

/** What the cells of tables stand for under a model. */
export const cellKindsOf = ({ types, context }: Model): CellKinds =>
  Object.fromEntries(
    [...types.values()].map(({ name, fields }) => [
      name,
      Object.fromEntries(fieldsWithin(fields).map((field) => [field.name, cellKindOf(field, context)])),
    ]),
  );

function cellKindOf({ kind, options, common }: Field, context: Model['context']): CellKind {
  const many = common.many !== undefined;
  switch (kind.stores(options, context).is) {
    case 'number':
    case 'integer':
      return { is: 'number', many };
    case 'boolean':
      return { is: 'boolean', many };
    case 'text':
    case 'one of':
      return { is: 'text', many };
    default:
      return { is: 'json', many };
  }
}

const text: CellKind = { is: 'text', many: false };

/** What a column stands for: the field of its name, or in one language the field before the last dot. */
export function cellKind(kinds: CellKinds, type: string, column: string): CellKind {
  const fields = kinds[type] ?? {};
  return fields[column] ?? fields[column.slice(0, Math.max(0, column.lastIndexOf('.')))] ?? text;
}

/** The value that a cell stands for; nothing where it is empty. What does not fit is the text that it is. */
export function cellValue(cell: string, { is, many }: CellKind, separator: string): Json | undefined {
  if (cell === '') return undefined;
  const whole = /^[[{]/u.test(cell) ? parsed(cell) : undefined;
  if (whole !== undefined && (many || is === 'json')) return whole;
  if (!many) return single(cell, is);
  return cell
    .split(separator.trim() === '' ? separator : separator.trim())
    .map((item) => item.trim())
    .filter((item) => item !== '')
    .map((item) => single(item, is));
}

function single(cell: string, is: CellKind['is']): Json {
  if (is === 'number' && /^[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?$/iu.test(cell)) return Number(cell);
  if (is === 'boolean' && /^(?:true|false)$/iu.test(cell)) return cell.toLowerCase() === 'true';
  return cell;
}

function parsed(cell: string): Json | undefined {
  try {
    return JSON.parse(cell) as Json;
  } catch {
    return undefined;
  }
}

/** Whether the name of a column is made of it and others, with dots between: `Tel. no.` is one name. */
const isPart = (key: string): boolean => key !== '' && key === key.trim() && !key.includes('.');

/** The keys that lead to what a column holds. */
export const partsOf = (column: string): readonly string[] => {
  const parts = column.split('.');
  return parts.every(isPart) ? parts : [column];
};

/** Values by columns: groups of keys are columns with dots in their names. */
export function flattened(values: JsonObject, columns: ReadonlySet<string>, above = ''): ReadonlyMap<string, Json> {
  const flat = new Map<string, Json>();
  for (const [key, value] of Object.entries(values)) {
    const column = above + key;
    const isGroup = isObject(value) && !columns.has(column) && [key, ...Object.keys(value)].every(isPart);
    if (!isGroup || Object.keys(value).length === 0) flat.set(column, value);
    else for (const [inner, one] of flattened(value, columns, `${column}.`)) flat.set(inner, one);
  }
  return flat;
}

/** Cells by columns as values: columns with dots in their names make groups of keys. */
export function nested(cells: Iterable<readonly [column: string, value: Json]>): JsonObject {
  const values: Record<string, Json> = {};
  for (const [column, value] of cells) {
    const keys = partsOf(column);
    let here = values;
    for (const key of keys.slice(0, -1)) {
      const inner = Object.hasOwn(here, key) && isObject(here[key]) ? here[key] : {};
      const next = inner as Record<string, Json>;
      put(here, key, next);
      here = next;
    }
    put(here, keys.at(-1) ?? column, value);
  }
  return values;
}
