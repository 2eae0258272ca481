import { z } from 'zod';
import { isUnique } from '../core/check/uniqueness.ts';
import { idRule, isId } from '../core/definition/address.ts';
import { type EntryAddress, keyOf } from '../core/entry/entry.ts';
import type { Type } from '../core/model/link.ts';
import { skeletonOf } from '../core/model/skeleton.ts';
import { isObject, type JsonObject, ownValue } from '../core/plain/json.ts';
import { slugify } from '../core/plain/slugify.ts';
import { quote } from '../core/plain/words.ts';
import { changeFiles } from '../journal/change.ts';
import { entriesOf } from '../passes/walk.ts';
import { fileNameLimit, fileNameOf, foldedId } from '../stores/folder/fileName.ts';
import { KeyNames } from '../stores/keys.ts';
import { openStore } from '../stores/open.ts';
import type { EntryStore } from '../stores/store.ts';
import { timestamp } from '../workspace/clock.ts';
import type { Workspace } from '../workspace/open.ts';
import { refuse, Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { writing } from './openForCall.ts';
import { head, resultVersion } from './result.ts';
import { typeNamed } from './show/type.ts';
import { takenValues } from './takenValues.ts';

/** The result of `lumbrik entry new`. */
export const EntryNewResult = z.strictObject({
  ...head('entry new'),
  entry: z.string(),
  file: z.string(),
  /** The fields that wait to be filled in. */
  open: z.array(z.string()),
});
export type EntryNewResult = z.output<typeof EntryNewResult>;

/** The options of a new entry. */
export interface EntryNewCall {
  readonly type: string;
  readonly id: string | undefined;
  readonly title: string | undefined;
}

/** Writes a new entry for an author to fill in. Nothing that is there is touched. */
export async function entryNew(call: Call, { type: typeName, id, title }: EntryNewCall): Promise<EntryNewResult> {
  return writing(call, async (workspace) => {
    const type = typeNamed(workspace, typeName);
    const titleText = title ?? (type.definition.single ? type.name : undefined);
    const identifier =
      id ?? (titleText === undefined ? undefined : slugify(titleText, workspace.model.definition.languages[0]));
    if (identifier === undefined)
      throw new Trouble('unusable-call', 'the new entry has no name', {
        mend: `Give its title, or its identifier: lumbrik entry new ${typeName} --title "…"`,
      });
    if (!isId(identifier))
      throw new Trouble('malformed-identifier', `\`${identifier}\` is no identifier of an entry`, {
        mend: `Give another with lumbrik entry new ${typeName} <id>: ${idRule}.`,
      });

    const { folder, keys } = folderForNew(workspace, type.name);

    await refuseTaken(openStore(workspace), { type: type.name, id: identifier }, type.definition.single === true);
    const usedValues = await takenValues(workspace, type);
    const { text, ending, open, values } = skeletonOf(type, workspace.model, {
      title,
      isTaken: (field, value) => usedValues.has(`${field} ${value}`),
      status: type.definition.builtIn?.status.default ?? 'draft',
      created: timestamp(),
      keyOf: (fact) => keys.of(fact),
      keyOfField: (name) => keys.storedKey(name),
    });
    refuseTitleTaken(type, values, usedValues);
    const file = `${folder}/${fileNameFor(identifier, ending)}`;
    changeFiles(workspace.root, [{ file, text, from: null }]);

    return { lumbrik: resultVersion, command: 'entry new', entry: `${type.name}/${identifier}`, file, open: [...open] };
  });
}

/** @throws {Trouble} where the title has to be another's than any. */
function refuseTitleTaken(
  { definition: { titled }, fields }: Type,
  values: JsonObject,
  usedValues: ReadonlySet<string>,
): void {
  const field = titled === undefined ? undefined : fields.get(titled);
  if (!field || !isUnique(field)) return;

  const written = ownValue(values, field.name);
  const titles = isObject(written) ? Object.values(written) : [written];
  const title = titles.find((title) => usedValues.has(`${field.name} ${String(title)}`));
  if (title === undefined) return;
  throw refuse('entry-exists', `another entry has the ${field.name} ${quote(title)} already, and no two may`, {
    mend: 'Give another with --title; nothing was written.',
  });
}

/** @throws {Trouble} where a file system cannot hold a name of that length. */
function fileNameFor(id: string, ending: string): string {
  const name = `${fileNameOf(id)}${ending}`;
  if (Buffer.byteLength(name) <= fileNameLimit) return name;
  throw new Trouble('malformed-identifier', `\`${id}\` is too long for the name of a file`, {
    mend: `Give a shorter one: ${fileNameLimit} bytes at most, with its ending.`,
  });
}

/** The first folder that entries lie in. @throws {Trouble} where they are all kept otherwise. */
function folderForNew(
  { content, factKeys }: Workspace,
  type: string,
): { readonly folder: string; readonly keys: KeyNames } {
  const folders = content.filter((store) => 'folder' in store);
  const ownFolder = folders.find((folder) => folder.type === type);
  if (ownFolder) return { folder: ownFolder.folder, keys: new KeyNames(ownFolder, factKeys) };

  const common = folders.find((folder) => folder.type === undefined);
  if (common) return { folder: `${common.folder}/${type}`, keys: new KeyNames(common, factKeys) };
  throw refuse('no-folder', 'the entries of this workspace are lines of files, and a new one is written to a folder', {
    mend: 'Say in lumbrik.yaml which folder that is: `content: [{ folder: content }, …]`. Nothing was written.',
  });
}

async function refuseTaken(store: EntryStore, address: EntryAddress, isSingle: boolean): Promise<void> {
  const same = await store.get(address);
  if (same)
    throw refuse('entry-exists', `there is an entry \`${keyOf(address)}\` already`, {
      mend: 'Choose another identifier; nothing was written.',
      where: { file: same.place.file },
    });

  for await (const { entry, place } of entriesOf(store)) {
    if (entry.type !== address.type) continue;
    if (foldedId(entry.id) === foldedId(address.id))
      throw refuse('entry-exists', `\`${keyOf(address)}\` and \`${keyOf(entry)}\` are one file on many systems`, {
        mend: 'Choose an identifier that differs in more than capitals; nothing was written.',
        where: { file: place.file },
      });
    if (isSingle)
      throw refuse('entry-exists', `there is exactly one ${address.type}, and it is written already`, {
        mend: 'Edit that one; nothing was written.',
        where: { file: place.file },
      });
  }
}
