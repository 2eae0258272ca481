import { builtInUnder } from '../definition/builtIn.ts';
import type { Entry } from '../entry/entry.ts';
import { compact, equal, own, withKey, withoutKey } from '../plain/json.ts';
import type { Look } from '../rules/lookUp.ts';
import { EntryDraft } from './entryDraft.ts';
import type { Loss, Operation } from './operation.ts';
import { migrateEntry, type Plan } from './plan.ts';

/** An entry that came since a run, on its way back: `undefined` where something of it would be lost or go unsaid. */
export function addedTakenBack(now: Entry, back: Plan, look?: Look): EntryDraft | undefined {
  const { draft } = migrateEntry(back, now, look);
  const isWhole = !draft.isDeleted && draft.losses.length === 0;
  return isWhole && unsaidIn(now, { values: {} }, back, look).length === 0 ? draft : undefined;
}

/** An entry before a migration, after it, and as somebody edited it since. */
export interface Edited {
  readonly before: Entry;
  readonly after: Entry;
  readonly now: Entry;
}

/** What is done to an entry as it was before, so that it keeps what was edited since. */
export interface EditsKept {
  readonly operations: readonly Operation[];
  /** The fields, by their older names, that are kept as they were edited. */
  readonly fields: readonly string[];
  /** Edits that cannot be taken back with the rest. */
  readonly lost: readonly Loss[];
}

/**
 * Works out what an entry was before a migration, with what was edited since. Both what the migration left and what it
 * became are taken back by the inverse steps: where the two differ, somebody edited it, and that is done to the entry as
 * it was. So what nobody touched is what it was, whatever its inverse would make of it.
 * @param back the inverse steps, planned over the newer model.
 */
export function editsKept({ before, after, now }: Edited, back: Plan, look?: Look): EditsKept {
  const left = migrateEntry(back, after, look).draft;
  const edited = migrateEntry(back, now, look).draft;
  const known = new Set(left.losses.map((loss) => JSON.stringify([loss.path, loss.value])));
  const lost = [
    ...edited.losses.filter((loss) => !known.has(JSON.stringify([loss.path, loss.value]))),
    ...unsaidIn(now, after, back, look),
  ];
  const draft = new EntryDraft(before, back.after.types.get(before.type));
  const fields: string[] = [];
  for (const field of new Set([...Object.keys(left.fields), ...Object.keys(edited.fields)])) {
    const [was, is] = [own(left.fields, field), own(edited.fields, field)];
    if (equal(was, is)) continue;
    fields.push(field);
    if (is === undefined) draft.remove(field);
    else draft.set(field, is);
  }
  draft.settle(back.after.types.get(before.type));
  const builtIn = builtInEdits(after, now);
  return {
    operations: [...draft.operations, ...builtIn.map(({ operation }) => operation)],
    fields: [...fields, ...builtIn.map(({ key }) => key)],
    lost,
  };
}

/**
 * What an entry says and the way back does not: values that make no difference to what it becomes, and of which no step
 * says that it loses them. Steps that see all entries put them into others, and these are what they were.
 * @param beside the entry without what is asked about: as a run left it, or without any value where it came since.
 */
function unsaidIn(now: Entry, beside: Pick<Entry, 'values' | 'prose'>, back: Plan, look?: Look): readonly Loss[] {
  const taken = (entry: Entry): string => {
    const { type, fields, losses } = migrateEntry(back, entry, look).draft;
    return JSON.stringify([type, fields, losses]);
  };
  const all = taken(now);
  const isUnsaid = (values: Entry['values'], prose: string | undefined): boolean =>
    taken(compact({ type: now.type, id: now.id, values, prose })) === all;
  const keys = [...new Set([...Object.keys(beside.values), ...Object.keys(now.values)])];
  const why = 'it goes into other entries on the way back, and these are what they were';
  return [
    ...keys.flatMap((key): readonly Loss[] => {
      const [was, is] = [own(beside.values, key), own(now.values, key)];
      if (builtInUnder(key) !== undefined || equal(was, is)) return [];
      const values = was === undefined ? withoutKey(now.values, key) : withKey(now.values, key, was);
      return isUnsaid(values, now.prose) ? [{ path: [key], value: is ?? null, why }] : [];
    }),
    ...(now.prose !== beside.prose && isUnsaid(now.values, beside.prose)
      ? [{ path: [], value: now.prose ?? null, why }]
      : []),
  ];
}

/** What was edited of what every entry has: its status, its dates. */
const builtInEdits = (after: Entry, now: Entry): readonly { readonly key: string; readonly operation: Operation }[] =>
  [...new Set([...Object.keys(after.values), ...Object.keys(now.values)])].flatMap((key) => {
    const [was, is] = [own(after.values, key), own(now.values, key)];
    const name = builtInUnder(key);
    if (name === undefined || name === 'id' || name === 'type' || equal(was, is)) return [];
    const operation: Operation =
      is === undefined ? { do: 'remove', inside: [], key } : { do: 'set', path: [key], value: is, after: [] };
    return [{ key, operation }];
  });
