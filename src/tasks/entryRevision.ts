import { z } from 'zod';
import { compact } from '../core/plain/json.ts';
import { changeFiles } from '../journal/change.ts';
import { contentRevisionFile, contentRevisionText } from '../workspace/contentRevision.ts';
import type { Workspace } from '../workspace/open.ts';
import type { Call } from './call.ts';
import { fittingModels, modelObeyed } from './modelOfEntries.ts';
import { findModel, type NamedModel } from './models.ts';
import { reading, writing } from './openForCall.ts';
import { head, resultVersion } from './result.ts';

const Named = z.strictObject({ name: z.string(), revision: z.int().optional(), hash: z.string() });

/** The result of `lumbrik entry revision`. */
export const EntryRevisionResult = z.strictObject({
  ...head('entry revision'),
  file: z.string(),
  /** The hash of the model that is recorded as the one that the entries obey. */
  recorded: z.string().optional(),
  /** That model, where a revision or the working files have it. */
  recordedAs: Named.optional(),
  /** What a person said now, if anything. */
  said: Named.optional(),
  /** The recorded models that all entries obey without a mistake, the newest first. */
  fits: z.array(Named),
});
export type EntryRevisionResult = z.output<typeof EntryRevisionResult>;

/** Tells which recorded model the entries obey, or records what a person says of it. No entry is touched. */
export async function entryRevision(call: Call, revision: string | undefined): Promise<EntryRevisionResult> {
  if (revision === undefined) return told(await reading(call), undefined);
  return writing(call, async (workspace) => {
    const statedModel = findModel(workspace, revision);
    changeFiles(workspace.root, [{ file: contentRevisionFile, text: contentRevisionText(statedModel.hash) }]);
    return told(workspace, statedModel);
  });
}

async function told(workspace: Workspace, statedModel: NamedModel | undefined): Promise<EntryRevisionResult> {
  const recorded = statedModel?.hash ?? workspace.records.contentRevision;
  const obeyed = recorded === undefined ? undefined : modelObeyed(recorded, workspace);

  return {
    lumbrik: resultVersion,
    command: 'entry revision',
    file: contentRevisionFile,
    ...(recorded === undefined ? {} : { recorded }),
    ...(obeyed ? { recordedAs: plain(obeyed) } : {}),
    ...(statedModel ? { said: plain(statedModel) } : {}),
    fits: (await fittingModels(workspace)).map(plain),
  };
}

const plain = ({ name, revision, hash }: NamedModel): z.output<typeof Named> => compact({ name, revision, hash });
