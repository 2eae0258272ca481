import { at, compact, isObject, type JsonObject } from '../plain/json.ts';
import { groupOnTheWay, loneOnTheWay, relocated, valueAt } from '../plain/relocate.ts';
import type { Edit } from './editOperation.ts';

/** Carrying a value as edits that write it anew: it is put where it goes, and holders without other values are removed. */
export function movedByRewriting(
  data: JsonObject,
  { inside = [], from, to, after }: Extract<Edit, { do: 'carry' }>,
): readonly Extract<Edit, { do: 'set' | 'remove' }>[] {
  const moved = at(data, inside);
  const holder = isObject(moved) ? moved : {};
  const intended = relocated(holder, from, to);
  const cut = loneOnTheWay(holder, from);
  const put = to.slice(0, groupOnTheWay(holder, to).length + 1);
  return [
    compact({ do: 'set', path: [...inside, ...put], value: valueAt(intended, put) ?? null, after }),
    { do: 'remove', inside: [...inside, ...cut.slice(0, -1)], key: cut.at(-1) ?? '' },
  ];
}
