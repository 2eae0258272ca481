import { equal, isList, isObject, type Json, type JsonObject, own, type Path } from '../plain/json.ts';
import type { EntryDraft } from './entryDraft.ts';

/** One value before and after; a side is absent where there is none. */
export interface EntryChange {
  readonly path: Path;
  readonly before?: Json;
  readonly after?: Json;
  /** Where the same value stands afterwards, if it only moved. */
  readonly movedTo?: Path;
}

/** What differs in an entry after a step. */
export function changesBetween(
  before: EntryDraft['fields'],
  { fields: after, isDeleted }: EntryDraft,
): readonly EntryChange[] {
  return isDeleted ? [{ path: [] }] : carriedElsewhere(changesIn([], before, after));
}

/** Changes in which what is gone from one place and has come into another, deeper or less deep, is one change. */
function carriedElsewhere(changes: readonly EntryChange[]): readonly EntryChange[] {
  const added = changes.filter(({ before }) => before === undefined);
  const arrived = new Set<EntryChange>();
  const all = changes.map((change): EntryChange => {
    if (change.before === undefined || change.after !== undefined || change.movedTo) return change;
    for (const one of added) {
      const inside = arrived.has(one) ? undefined : pathOf(change.before, one.after);
      if (!inside) continue;
      arrived.add(one);
      return { ...change, movedTo: [...one.path, ...inside] };
    }
    return change;
  });
  return all.filter((change) => !arrived.has(change));
}

/** Where a value stands in another one, through groups of keys alone. */
function pathOf(value: Json, inside: Json | undefined): Path | undefined {
  if (equal(value, inside)) return [];
  for (const [key, one] of Object.entries(isObject(inside) ? inside : {})) {
    const path = pathOf(value, one);
    if (path) return [key, ...path];
  }
  return undefined;
}

/** What differs between two groups of keys, down to the smallest parts that both sides have. */
function changesIn(above: Path, before: JsonObject, after: JsonObject): readonly EntryChange[] {
  const come = Object.keys(after).filter((name) => !Object.hasOwn(before, name));
  const moved = new Set<string>();
  const changes: EntryChange[] = [];
  for (const name of Object.keys(before)) {
    const was = before[name] ?? null;
    const is = own(after, name);
    if (equal(was, is)) continue;
    const path = [...above, name];
    const inside = is === undefined ? undefined : changesInside(path, was, is);
    if (inside) changes.push(...inside);
    else if (is !== undefined) changes.push({ path, before: was, after: is });
    else {
      const to = come.find((other) => !moved.has(other) && equal(after[other], was));
      if (to !== undefined) moved.add(to);
      changes.push(to === undefined ? { path, before: was } : { path, before: was, movedTo: [...above, to] });
    }
  }
  for (const name of come) if (!moved.has(name)) changes.push({ path: [...above, name], after: after[name] ?? null });
  return changes;
}

/** The same for two values that are both groups of keys, or lists of as many of them; `undefined` for others. */
function changesInside(path: Path, was: Json, is: Json): readonly EntryChange[] | undefined {
  if (isObject(was) && isObject(is)) return changesIn(path, was, is);
  if (!isList(was) || !isList(is) || was.length !== is.length) return undefined;
  const perItem = was.map((item, index) => {
    const other = is[index] ?? null;
    return equal(item, other) ? [] : changesInside([...path, index], item, other);
  });
  return perItem.every((changes) => changes !== undefined) ? perItem.flat() : undefined;
}
