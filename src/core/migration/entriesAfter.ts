import { type Entry, factUnder, settingsOf } from '../entry/entry.ts';
import { type Json, put } from '../plain/json.ts';
import type { EntryDraft } from './entryDraft.ts';
import type { Migrated } from './plan.ts';

/** An entry as it is read after a migration. */
export function entryAfter(before: Entry, draft: EntryDraft): Entry {
  const { type, id, fields } = draft;
  const values: Record<string, Json> = {};
  for (const key of Object.keys(before.values)) {
    const name = factUnder(key, before);
    if (name === undefined || name === 'id' || name === 'type' || Object.hasOwn(fields, key)) continue;
    put(values, key, before.values[key] ?? null);
  }

  for (const key of Object.keys(fields)) put(values, key, fields[key] ?? null);
  return { type, id, values, ...settingsOf(before) };
}

/** The entries that came out of another one, as they are read after a migration. */
export const newEntries = ({ newEntries }: Migrated): readonly Entry[] =>
  newEntries.filter(({ isDeleted }) => !isDeleted).map((draft) => draft.entry());
