import { isObject, type Json, type JsonObject, put } from '../../core/plain/json.ts';

/** Whether the name of a column is made of it and others, with dots between: `Tel. no.` is one name. */
const isPart = (key: string): boolean => key !== '' && key === key.trim() && !key.includes('.');

/** The keys that lead to what a column holds. */
export const partsOf = (column: string): readonly string[] => {
  const parts = column.split('.');
  if (parts.every(isPart)) return parts;
  return [column];
};

/** Values by columns: groups of keys are columns with dots in their names. */
export function flattened(values: JsonObject, columns: ReadonlySet<string>, above = ''): ReadonlyMap<string, Json> {
  const flat = new Map<string, Json>();
  for (const [key, value] of Object.entries(values)) {
    const column = above + key;
    const isGroup = isObject(value) && !columns.has(column) && [key, ...Object.keys(value)].every(isPart);
    if (!isGroup || Object.keys(value).length === 0) flat.set(column, value);
    else for (const [inner, inside] of flattened(value, columns, `${column}.`)) flat.set(inner, inside);
  }

  return flat;
}

/** Cells by columns as values: columns with dots in their names make groups of keys. */
export function nested(cells: Iterable<readonly [column: string, value: Json]>): JsonObject {
  const values: Record<string, Json> = {};
  for (const [column, value] of cells) {
    const keys = partsOf(column);
    let holder = values;
    for (const key of keys.slice(0, -1)) {
      const inner = Object.hasOwn(holder, key) && isObject(holder[key]) ? holder[key] : {};
      const next = inner as Record<string, Json>;
      put(holder, key, next);
      holder = next;
    }

    put(holder, keys.at(-1) ?? column, value);
  }

  return values;
}
