import { keyOf, statusOf } from '../../core/entry/entry.ts';
import { countedValue } from '../../core/model/emptiness.ts';
import { readingOrder, valueIn } from '../../core/model/languages.ts';
import type { Field } from '../../core/model/link.ts';
import { fieldsOf } from '../../core/model/ownFields.ts';
import { previewsOf } from '../../core/model/previews.ts';
import { isMade, titleOf } from '../../core/model/traversal.ts';
import { isList, isObject, type Json, own, pointer } from '../../core/plain/json.ts';
import { didYouMean } from '../../core/plain/nearest.ts';
import { thereAre } from '../../core/plain/words.ts';
import { entriesPass, factsPass } from '../../passes/facts.ts';
import { walk } from '../../passes/walk.ts';
import type { EntryStore } from '../../stores/store.ts';
import type { Workspace } from '../../workspace/open.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { command, type ShowResult } from './result.ts';
import { typeNamed } from './type.ts';

/** An entry, its values in the order of its fields, and what points at it. */
export async function showEntry(
  workspace: Workspace,
  store: EntryStore,
  { type: typeName, id }: { readonly type: string; readonly id: string },
  asked?: string,
): Promise<ShowResult> {
  const stored = await store.get({ type: typeName, id });
  if (!stored) throw await noEntry(workspace, store, typeName, id);
  const { entry } = stored;
  const type = workspace.model.types.get(entry.type);
  const fields = fieldsOf(entry, type);
  const language = asked ?? workspace.languages[0] ?? 'en';
  const values = [
    ...(type?.fields.keys() ?? []),
    ...Object.keys(fields).filter((key) => !type?.fields.has(key)),
  ].flatMap((field) => {
    const value = own(fields, field);
    const linked = type?.fields.get(field);
    const kind = linked?.kind;
    if (value === undefined || countedValue(linked ?? { common: {} }, value) === undefined) return [];
    if (asked !== undefined && linked?.common.localized) {
      const read = valueIn(value, readingOrder(workspace.model.definition, asked));
      if (!read) return [];
      const other = read.language === asked ? {} : { language: read.language };
      const { common: _, ...inOne } = linked;
      const says = sayValue({ ...inOne, common: {} }, read.value, read.language);
      return [{ field, kind: linked.kind.name, value: read.value, ...(says === undefined ? {} : { says }), ...other }];
    }
    const says = linked && sayValue(linked, value, language);
    return [{ field, ...(kind ? { kind: kind.name } : {}), value, ...(says === undefined ? {} : { says }) }];
  });
  const title = titleOf(entry, type, language) ?? titleOf(entry, type, workspace.languages[0] ?? 'en');

  return {
    ...command,
    what: 'entry',
    address: keyOf(entry),
    ...(title === undefined ? {} : { title }),
    file: stored.place.file,
    status: statusOf(entry),
    language,
    previews: type ? [...previewsOf(entry, type, language)] : [],
    values,
    empty: [...(type?.fields.values() ?? [])]
      .filter((field) => countedValue(field, own(fields, field.name)) === undefined)
      .map(({ name }) => name),
    pointedAtBy: await pointersTo(workspace, store, keyOf(entry)),
  };
}

/** A value in words, where its stored form is not what a person would say; by language where it differs. */
function sayValue(field: Field, value: Json, main: string): string | undefined {
  const isSaid = field.kind.say !== undefined || isMade(field) || field.common.localized;
  if (field.common.localized && isObject(value))
    return Object.entries(value)
      .map(([language, one]) => `${language}: ${sayInOne(field, one, language)}`)
      .join(' · ');
  return isSaid ? sayInOne(field, value, main) : undefined;
}

function sayInOne(field: Field, value: Json, language: string): string {
  const items = isList(value) && (field.common.many !== undefined || !field.kind.takesLists) ? value : [value];
  return items.map((item) => sayItem(field, item, language)).join(isMade(field) ? '; ' : ', ');
}

/** A single value: of an object or a map with its keys, `opens 10:00, closes 18:00`. */
function sayItem(field: Field, item: Json, language: string): string {
  const { kind, fields } = field;
  if (isMade(field) && isObject(item))
    return Object.entries(item)
      .map(([key, one]) => {
        const inner = kind.maps ? fields.get('value') : fields.get(key);
        return `${key} ${(inner && sayValue(inner, one, language)) ?? (inner ? sayInOne(inner, one, language) : asStored(one))}`;
      })
      .join(', ');
  return kind.say ? kind.say(item, language) : asStored(item);
}

const asStored = (item: Json): string => (typeof item === 'string' ? item : JSON.stringify(item));

async function pointersTo(
  { model }: Workspace,
  store: EntryStore,
  address: string,
): Promise<{ entry: string; pointer: string }[]> {
  const found: { entry: string; pointer: string }[] = [];
  const pass = await factsPass(model, ({ links, entry }) => {
    for (const { to, path } of links) if (keyOf(to) === address) found.push({ entry, pointer: pointer(path) });
  });
  await walk(store, [pass]);
  return found;
}

/** That an entry is not there, with what was probably meant. @throws {Trouble} where there is no such type either. */
export async function noEntry(workspace: Workspace, store: EntryStore, type: string, id: string): Promise<Trouble> {
  typeNamed(workspace, type);
  const ids: string[] = [];
  const pass = entriesPass((entry) => {
    if (entry.type === type) ids.push(entry.id);
  });
  await walk(store, [pass]);
  const near = didYouMean(id, ids);
  return new Trouble('not-found', `there is no entry \`${type}/${id}\``, {
    mend: near ?? thereAre(ids, 6) ?? `Write one: lumbrik entry new ${type} ${id}`,
  });
}
