import { equal, isList, isObject, type Json, type JsonObject, ownValue, type Path } from '../plain/json.ts';
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
  if (isDeleted) return [{ path: [] }];
  return carriedElsewhere(changesIn([], before, after));
}

/** Changes in which a value that moved to another depth is one change. */
function carriedElsewhere(changes: readonly EntryChange[]): readonly EntryChange[] {
  if (!changes.some(isGone)) return changes;

  const added = changes.filter(({ before }) => before === undefined);
  const arrived = new Set<EntryChange>();
  const changesInside = changes.flatMap((change): readonly EntryChange[] => {
    if (change.before === undefined || !isGone(change)) return [change];

    for (const entryChange of added) {
      const inside = arrived.has(entryChange) ? undefined : pathOf(change.before, entryChange.after);
      if (!inside) continue;
      arrived.add(entryChange);
      return [{ ...change, movedTo: [...entryChange.path, ...inside] }];
    }

    return takenApart(change, added, arrived) ?? [change];
  });

  return changesInside.filter((change) => !arrived.has(change));
}

const isGone = ({ after, movedTo }: EntryChange): boolean => after === undefined && movedTo === undefined;

/** A group of keys that is gone since all that was in it is elsewhere; `undefined` where anything of it does not. */
function takenApart(
  { path, before }: EntryChange,
  added: readonly EntryChange[],
  arrived: Set<EntryChange>,
): readonly EntryChange[] | undefined {
  if (!isObject(before ?? null)) return undefined;

  const matched = new Set<EntryChange>();
  const parts = partsOf(path, before ?? null).map((part): EntryChange | undefined => {
    const free = added.filter(
      (change) => !arrived.has(change) && !matched.has(change) && equal(change.after ?? null, part.before),
    );
    const closest = free.find((other) => other.path.at(-1) === part.path.at(-1)) ?? free[0];
    if (closest) matched.add(closest);
    return closest && { ...part, movedTo: closest.path };
  });
  if (!parts.every((part) => part !== undefined)) return undefined;

  for (const change of matched) arrived.add(change);

  return parts;
}

/** The smallest parts of a group of keys, each where it stands. */
const partsOf = (path: Path, value: Json): readonly { readonly path: Path; readonly before: Json }[] => {
  if (isObject(value) && Object.keys(value).length > 0)
    return Object.entries(value).flatMap(([key, value]) => partsOf([...path, key], value));
  return [{ path, before: value }];
};

/** Where a value is in another one, through groups of keys alone. */
function pathOf(value: Json, inside: Json | undefined): Path | undefined {
  if (equal(value, inside)) return [];
  for (const [key, item] of Object.entries(isObject(inside) ? inside : {})) {
    const path = pathOf(value, item);
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
    const oldValue = before[name] ?? null;
    const newValue = ownValue(after, name);
    if (equal(oldValue, newValue)) continue;

    const path = [...above, name];
    const inside = newValue === undefined ? undefined : changesInside(path, oldValue, newValue);
    if (inside) changes.push(...inside);
    else if (newValue !== undefined) changes.push({ path, before: oldValue, after: newValue });
    else {
      const to = come.find((other) => !moved.has(other) && equal(after[other], oldValue));
      if (to !== undefined) moved.add(to);
      changes.push(to === undefined ? { path, before: oldValue } : { path, before: oldValue, movedTo: [...above, to] });
    }
  }

  for (const name of come) if (!moved.has(name)) changes.push({ path: [...above, name], after: after[name] ?? null });

  return changes;
}

/** The same for two values that are both groups of keys, or lists of as many of them; `undefined` for others. */
function changesInside(path: Path, before: Json, after: Json): readonly EntryChange[] | undefined {
  if (isObject(before) && isObject(after)) return changesIn(path, before, after);
  if (!isList(before) || !isList(after) || before.length !== after.length) return undefined;

  const perItem = before.map((item, index) => {
    const other = after[index] ?? null;
    if (equal(item, other)) return [];
    return changesInside([...path, index], item, other);
  });

  if (!perItem.every((changes) => changes !== undefined)) return undefined;
  return perItem.flat();
}
