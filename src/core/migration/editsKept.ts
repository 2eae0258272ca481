import { type Entry, factUnder } from '../entry/entry.ts';
import { compact, equal, ownValue, withKey, withoutKey } from '../plain/json.ts';
import type { Look } from '../rules/lookUp.ts';
import { EntryDraft } from './entryDraft.ts';
import type { Loss, Operation } from './operation.ts';
import { migrateEntry, type Plan } from './plan.ts';

/** An entry that came since a run, on its way back: `undefined` where something of it would be lost or go unsaid. */
export function addedTakenBack(edited: Entry, back: Plan, look?: Look): EntryDraft | undefined {
  const { draft } = migrateEntry(back, edited, look);
  const isWhole = !draft.isDeleted && draft.losses.length === 0;
  if (isWhole && unsaidIn(edited, { values: {} }, back, look).length === 0) return draft;
  return undefined;
}

/** An entry before a migration, after it, and as somebody edited it since. */
export interface EditedEntry {
  readonly before: Entry;
  readonly after: Entry;
  readonly edited: Entry;
}

/** The operations on an old entry that keep later edits. */
export interface EditsKept {
  readonly operations: readonly Operation[];
  /** The fields, by their older names, that are kept as they were edited. */
  readonly fields: readonly string[];
  /** Edits that cannot be undone with the rest. */
  readonly lost: readonly Loss[];
}

/**
 * Works out what an entry was before a migration, with later edits. Both the result of the migration and the edited entry
 * became are undone by the inverse steps: where the two differ, somebody edited it, and that is done to the entry as
 * it was. So untouched values keep their old form, whatever the inverse would make of them.
 * @param back the inverse steps, planned over the newer model.
 */
export function editsKept({ before, after, edited: entry }: EditedEntry, back: Plan, look?: Look): EditsKept {
  const migrated = migrateEntry(back, after, look).draft;
  const edited = migrateEntry(back, entry, look).draft;
  const knownLosses = new Set(migrated.losses.map((loss) => JSON.stringify([loss.path, loss.value])));
  const lost = [
    ...edited.losses.filter((loss) => !knownLosses.has(JSON.stringify([loss.path, loss.value]))),
    ...unsaidIn(entry, after, back, look),
  ];
  const draft = new EntryDraft(before, back.after.types.get(before.type));
  const fields: string[] = [];
  for (const field of new Set([...Object.keys(migrated.fields), ...Object.keys(edited.fields)])) {
    const [oldValue, newValue] = [ownValue(migrated.fields, field), ownValue(edited.fields, field)];
    if (equal(oldValue, newValue)) continue;
    fields.push(field);
    if (newValue === undefined) draft.remove(field);
    else draft.set(field, newValue);
  }

  draft.settle(back.after.types.get(before.type));
  const builtIn = builtInEdits(after, entry);

  return {
    operations: [...draft.operations, ...builtIn.map(({ operation }) => operation)],
    fields: [...fields, ...builtIn.map(({ key }) => key)],
    lost,
  };
}

/**
 * What an entry says and the way back does not: values that make no difference afterwards, and of which no step
 * says that it loses them. Steps that see all entries put them into others, which are restored.
 * @param beside the entry without the edits: as a run left it, or without any value where it came since.
 */
function unsaidIn(edited: Entry, beside: Pick<Entry, 'values' | 'prose'>, back: Plan, look?: Look): readonly Loss[] {
  const signature = (entry: Entry): string => {
    const { type, fields, losses } = migrateEntry(back, entry, look).draft;
    return JSON.stringify([type, fields, losses]);
  };

  const signatureNow = signature(edited);
  const isUnsaid = (values: Entry['values'], prose: string | undefined): boolean =>
    signature(compact({ ...edited, values, prose })) === signatureNow;
  const keys = [...new Set([...Object.keys(beside.values), ...Object.keys(edited.values)])];
  const reason = 'it goes into other entries on the way back, and these are what they were';

  return [
    ...keys.flatMap((key): readonly Loss[] => {
      const [oldValue, newValue] = [ownValue(beside.values, key), ownValue(edited.values, key)];
      if (factUnder(key, edited) !== undefined || equal(oldValue, newValue)) return [];
      const values = oldValue === undefined ? withoutKey(edited.values, key) : withKey(edited.values, key, oldValue);
      if (!isUnsaid(values, edited.prose)) return [];
      return [{ path: [key], value: newValue ?? null, why: reason }];
    }),
    ...(edited.prose !== beside.prose && isUnsaid(edited.values, beside.prose)
      ? [{ path: [], value: edited.prose ?? null, why: reason }]
      : []),
  ];
}

/** Edits of built-in facts: the status, the dates. */
const builtInEdits = (
  after: Entry,
  edited: Entry,
): readonly { readonly key: string; readonly operation: Operation }[] =>
  [...new Set([...Object.keys(after.values), ...Object.keys(edited.values)])].flatMap((key) => {
    const [oldValue, newValue] = [ownValue(after.values, key), ownValue(edited.values, key)];
    const name = factUnder(key, edited);
    if (name === undefined || name === 'id' || name === 'type' || equal(oldValue, newValue)) return [];

    const operation: Operation =
      newValue === undefined
        ? { do: 'remove', inside: [], key }
        : { do: 'set', path: [key], value: newValue, after: [] };

    return [{ key, operation }];
  });
