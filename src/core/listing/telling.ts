import type { Field, Type } from '../model/link.ts';
import type { Json } from '../plain/json.ts';
import { type Column, columnOf, titleColumn } from './column.ts';

/** The columns that may tell something in a list: the field that names entries first, then the status and the other fields. */
export function mayTell(types: readonly Type[]): readonly Column[] {
  const naming = namesOf(types);
  const fields = types.flatMap((type) => [...type.fields.values()].filter(isTold).map(({ name }) => name));
  const names = new Set(['status', ...fields.filter((name) => !naming.has(name))]);
  const [only] = naming;
  const first = naming.size === 1 && only !== undefined ? columnOf(only, types) : titleColumn;
  return [...(first ? [first] : []), ...[...names].flatMap((name) => columnOf(name, types) ?? [])];
}

/** The fields that name the entries of some types. */
const namesOf = (types: readonly Type[]): ReadonlySet<string> =>
  new Set(types.flatMap(({ definition }) => definition.titled ?? []));

const isTold = ({ kind }: Field): boolean => kind.glance > 0;

/**
 * Of the columns that may tell something those that do, the most telling first: what names entries, the requested part,
 * then by how many have a value and how much these differ.
 * @param rows the cells by column, for some entries.
 */
export function mostTelling(
  columns: readonly Column[],
  rows: readonly ReadonlyMap<string, Json>[],
  {
    types,
    asked: requested,
    most,
  }: { readonly types: readonly Type[]; readonly asked: ReadonlySet<string>; readonly most: number },
): readonly Column[] {
  const naming = namesOf(types);
  const scoreOf = (column: Column): number => {
    if (!rows.some((row) => row.has(column.name))) return 0;
    if (column === titleColumn || naming.has(column.name)) return 4;
    if (requested.has(column.name)) return 3;
    return telling(column, rows);
  };

  const scored = columns.map((column) => ({ column, score: scoreOf(column) })).filter(({ score }) => score > 0);

  return scored
    .sort((a, b) => b.score - a.score)
    .slice(0, most)
    .map(({ column }) => column);
}

/** How much a column tells entries apart, from 0 to less than 2: nothing where all have the same or none has any. */
function telling(column: Column, rows: readonly ReadonlyMap<string, Json>[]): number {
  const counts = new Map<string, number>();
  let filled = 0;
  for (const row of rows) {
    const value = row.get(column.name);
    if (value === undefined) continue;
    filled += 1;
    const key = JSON.stringify(value);
    counts.set(key, (counts.get(key) ?? 0) + 1);
  }

  // One entry alone is reported by whatever it has.
  if (rows.length === 1) return filled * column.glance;
  if (counts.size < 2 || filled < 2) return 0;

  const bits = [...counts.values()].reduce((sum, times) => sum - (times / filled) * Math.log2(times / filled), 0);
  const share = filled / rows.length;

  return share * (bits / Math.log2(filled) / 2 + column.glance);
}
