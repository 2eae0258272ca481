import { compile } from '../../core/check/compile.ts';
import { windowOf } from '../../core/check/visibility.ts';
import { wordsIn } from '../../core/definition/wording.ts';
import { type Entry, keyOf, statusOf } from '../../core/entry/entry.ts';
import { countedValue } from '../../core/model/emptiness.ts';
import { readingOrder, valueIn } from '../../core/model/languages.ts';
import type { Field } from '../../core/model/link.ts';
import { fieldsOf } from '../../core/model/ownFields.ts';
import { previewsOf } from '../../core/model/previews.ts';
import { titleRead } from '../../core/model/traversal.ts';
import { compact, type Json, ownValue, pointer } from '../../core/plain/json.ts';
import { didYouMean } from '../../core/plain/nearest.ts';
import { shellWord } from '../../core/plain/shellWord.ts';
import { thereAre } from '../../core/plain/words.ts';
import { entriesPass, factsPass } from '../../passes/facts.ts';
import { walk } from '../../passes/walk.ts';
import type { EntryStore } from '../../stores/store.ts';
import type { Workspace } from '../../workspace/open.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { command, type EntryShown, type ShowResult } from './result.ts';
import { sayValue, type ValueContext } from './sayValue.ts';
import { typeNamed } from './type.ts';

/** An entry, its values in the order of its fields, and what points at it. */
export async function showEntry(
  workspace: Workspace,
  store: EntryStore,
  { type: typeName, id }: { readonly type: string; readonly id: string },
  askedLanguage?: string,
): Promise<ShowResult> {
  const stored = await store.get({ type: typeName, id });
  if (!stored) throw await noEntry(workspace, store, typeName, id);

  const { entry } = stored;
  const type = workspace.model.types.get(entry.type);
  const fields = fieldsOf(entry, type);
  const language = askedLanguage ?? workspace.languages[0] ?? 'en';
  const { pointers, titles } = await around(workspace, store, entry, language);
  const saying = { model: workspace.model, titles };
  const names = [...(type?.fields.keys() ?? []), ...Object.keys(fields).filter((key) => !type?.fields.has(key))];
  const values = names.flatMap((field): readonly ValueShown[] => {
    const value = ownValue(fields, field);
    const linked = type?.fields.get(field);
    if (value === undefined || countedValue(linked ?? { common: {} }, value) === undefined) return [];
    if (askedLanguage !== undefined && linked?.common.localized)
      return shownInLanguage(linked, value, askedLanguage, saying);

    const label = linked && wordsIn(linked.common.label, [language]);
    const text = linked && sayValue(linked, value, language, saying);
    return [compact({ field, label, kind: linked?.kind.name, value, says: text })];
  });
  const title = titleRead(entry, type, { readingOrder: readingOrder(workspace.model.definition, language) });

  return {
    ...command,
    what: 'entry',
    address: keyOf(entry),
    ...(title === undefined ? {} : { title }),
    file: stored.place.file,
    status: statusOf(entry),
    public: windowOf(entry),
    language,
    previews: type ? [...previewsOf(entry, type, language)] : [],
    values,
    empty: [...(type?.fields.values() ?? [])]
      .filter((field) => countedValue(field, ownValue(fields, field.name)) === undefined)
      .map(({ name }) => name),
    pointedAtBy: pointers,
  };
}

type ValueShown = EntryShown['values'][number];

/** A value that differs by language, in one of them; none where there is no value in it and those that are in for it. */
function shownInLanguage(field: Field, value: Json, language: string, saying: ValueContext): readonly ValueShown[] {
  const read = valueIn(value, readingOrder(saying.model.definition, language));
  if (!read) return [];

  const { common: _, ...inOne } = field;
  const { localized: __, ...common } = field.common;
  const shown = {
    field: field.name,
    label: wordsIn(field.common.label, [language]),
    kind: field.kind.name,
    value: read.value,
    says: sayValue({ ...inOne, common }, read.value, read.language, saying),
    language: read.language === language ? undefined : read.language,
  };
  return [compact(shown)];
}

/** What points at an entry, and what those are called that it points at. */
async function around(
  { model }: Workspace,
  store: EntryStore,
  entry: Entry,
  language: string,
): Promise<{ readonly pointers: { entry: string; pointer: string }[]; readonly titles: ReadonlyMap<string, string> }> {
  const address = keyOf(entry);
  const inverseNames = new Set(
    compile(model)
      .check(entry)
      .facts.links.map(({ to }) => keyOf(to)),
  );
  const pointers: { entry: string; pointer: string }[] = [];
  const titles = new Map<string, string>();
  const order = readingOrder(model.definition, language);
  const pass = await factsPass(model, ({ links, entry: source }, other) => {
    for (const { to, path } of links)
      if (keyOf(to) === address) pointers.push({ entry: source, pointer: pointer(path) });
    if (!inverseNames.has(source)) return;
    const type = model.types.get(other.type);
    const title = titleRead(other, type, { readingOrder: order });
    if (title !== undefined) titles.set(source, title);
  });
  await walk(store, [pass]);

  return { pointers, titles };
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
    mend: near ?? thereAre(ids, 6) ?? `Write one: lumbrik entry new ${type} ${shellWord(id)}`,
  });
}
