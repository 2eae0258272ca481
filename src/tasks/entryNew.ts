import { z } from 'zod';
import { idRule, isId } from '../core/definition/address.ts';
import { skeletonOf } from '../core/model/skeleton.ts';
import { slugify } from '../core/plain/slugify.ts';
import { changeFiles } from '../journal/change.ts';
import { folderStore } from '../store/folder.ts';
import { timestamp } from '../workspace/clock.ts';
import { refuse, Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { writing } from './enter.ts';
import { head, resultVersion } from './result.ts';
import { typeNamed } from './show/type.ts';

export const EntryNewResult = z.strictObject({
  ...head('entry new'),
  entry: z.string(),
  file: z.string(),
  /** The fields that wait to be filled in. */
  open: z.array(z.string()),
});
export type EntryNewResult = z.output<typeof EntryNewResult>;

export interface EntryNewCall {
  readonly type: string;
  readonly id: string | undefined;
  readonly title: string | undefined;
}

/** Writes a new entry for an author to fill in. Nothing that is there is touched. */
export async function entryNew(call: Call, { type: typeName, id, title }: EntryNewCall): Promise<EntryNewResult> {
  return writing(call, async (workspace) => {
    const type = typeNamed(workspace, typeName);
    const said = title ?? (type.definition.single ? type.name : undefined);
    const identifier = id ?? (said === undefined ? undefined : slugify(said));
    if (identifier === undefined)
      throw new Trouble('unusable-call', 'the new entry has no name', {
        mend: `Give its title, or its identifier: lumbrik entry new ${typeName} --title "…"`,
      });
    if (!isId(identifier))
      throw new Trouble('malformed-identifier', `\`${identifier}\` is no identifier of an entry`, {
        mend: `Give another with lumbrik entry new ${typeName} <id>: ${idRule}.`,
      });
    await refuseTaken(folderStore(workspace.root), type.name, identifier, type.definition.single === true);
    const { text, ending, open } = skeletonOf(type, workspace.model, {
      title,
      status: type.definition.newEntries?.status ?? 'draft',
      created: timestamp(),
    });
    const file = `content/${type.name}/${identifier}${ending}`;
    changeFiles(workspace.root, [{ file, text }]);
    return { lumbrik: resultVersion, command: 'entry new', entry: `${type.name}/${identifier}`, file, open: [...open] };
  });
}

async function refuseTaken(
  store: ReturnType<typeof folderStore>,
  type: string,
  id: string,
  isSingle: boolean,
): Promise<void> {
  const same = await store.find(type, id);
  if (same)
    throw refuse('entry-exists', `there is an entry \`${type}/${id}\` already`, {
      mend: 'Choose another identifier; nothing was written.',
      where: { file: same.file },
    });
  if (!isSingle) return;
  for await (const stored of store.entries())
    if ('entry' in stored && stored.entry.type === type)
      throw refuse('entry-exists', `there is exactly one ${type}, and it is written already`, {
        mend: 'Edit that one; nothing was written.',
        where: { file: stored.file },
      });
}
