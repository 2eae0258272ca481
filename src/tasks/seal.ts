import { z } from 'zod';
import type { ModelDoc } from '../core/definition/model.ts';
import { compare } from '../core/diff/compare.ts';
import { ratingOf } from '../core/diff/impact.ts';
import { worstOf } from '../core/diff/rating.ts';
import type { StatedRenames } from '../core/diff/statedRenames.ts';
import { hashModel } from '../core/revision/canonical.ts';
import { makeRevision } from '../core/revision/chain.ts';
import { firstVersion, nextVersion } from '../core/revision/version.ts';
import { changeFiles, type WantedChange } from '../journal/change.ts';
import { timestamp } from '../workspace/clock.ts';
import { contentRevisionFile, contentRevisionText } from '../workspace/contentRevision.ts';
import type { Workspace } from '../workspace/open.ts';
import { recordsIn } from '../workspace/records.ts';
import { revisionFile } from '../workspace/revisions.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { changesBetween } from './changes.ts';
import { contentStateOf, isCompatible } from './contentState.ts';
import { knownRenames } from './knownRenames.ts';
import { saidIn } from './migration/renamesInSteps.ts';
import { readMigrations } from './migrationFiles.ts';
import { obeyedModelIfKnown } from './modelOfEntries.ts';
import { writing } from './openForCall.ts';
import { readRenameOptions } from './renameOptions.ts';
import { Change, ContentState, head, Rating, RevisionGist, resultVersion } from './result.ts';

/** The result of `lumbrik seal`. */
export const SealResult = z.strictObject({
  ...head('seal'),
  ...RevisionGist.shape,
  /** The version before; absent for the first revision. */
  previousVersion: z.string().optional(),
  file: z.string(),
  hash: z.string(),
  ...Rating,
  changes: z.array(Change),
  standing: ContentState,
});
export type SealResult = z.output<typeof SealResult>;

/** Records the model in the working files as the next revision. */
export async function seal(call: Call, message: string): Promise<SealResult> {
  if (message.trim() === '')
    throw new Trouble('no-message', 'a revision needs a message', {
      mend: 'Say in a sentence what changed: lumbrik seal -m "…"',
    });
  return writing(call, async (workspace) => {
    const { revisions } = workspace.records;
    const last = revisions.at(-1);
    if (last && hashModel(last.model) === workspace.modelHash)
      throw new Trouble('nothing-changed', `nothing changed since revision ${last.revision} (${last.version})`, {
        mend: 'Edit the files in model/, then seal again.',
      });

    const { definition } = workspace.model;
    const comparison = last && compare(last.model, definition, statedBetween(workspace, last.model));
    const rating = comparison ? ratingOf(comparison) : worstOf([]);
    const revision = makeRevision({
      revision: (last?.revision ?? 0) + 1,
      version: last ? nextVersion(last.version, rating) : firstVersion,
      date: timestamp(),
      message: message.trim(),
      previous: last?.hash ?? null,
      model: definition,
    });
    const recorded = revisionFile(revision);
    const moved = await carriedRevision(workspace);

    changeFiles(workspace.root, [recorded, ...(moved === undefined ? [] : [moved])]);
    const { model: _, previous: __, ...gist } = revision;

    return {
      lumbrik: resultVersion,
      command: 'seal',
      ...gist,
      ...(last ? { previousVersion: last.version } : {}),
      file: recorded.file,
      ...rating,
      changes: comparison ? changesBetween(comparison) : [],
      // As it is on the disk now.
      standing: await contentStateOf({ ...workspace, records: recordsIn(workspace.root) }),
    };
  });
}

/** What a migration between a model and the working files says of renames and moves: what was intended was stated there. */
function statedBetween(
  { root, modelHash, model: { definition } }: Workspace,
  before: ModelDoc,
): StatedRenames | undefined {
  const from = hashModel(before);
  try {
    const leading = readMigrations(root).find(({ migration }) => migration.from === from && migration.to === modelHash);
    if (leading) return readRenameOptions({ ...saidIn(leading.migration.steps), notRenamed: leading.migration.apart });
    return readRenameOptions(knownRenames(root, [before, definition]));
  } catch (error) {
    if (error instanceof Trouble) return undefined; // What is wrong with a migration is reported where it is used.
    throw error;
  }
}

/**
 * The file that says which model the entries obey, where sealing changes it: the first revision, or a new one where they
 * obeyed an older one and nothing has to be migrated. What is not known stays so, and is requested where it is needed.
 */
async function carriedRevision(workspace: Workspace): Promise<WantedChange | undefined> {
  const { revisions, contentRevision } = workspace.records;
  const model = workspace.model.definition;
  const obeyedModel = revisions.length === 0 ? undefined : (await obeyedModelIfKnown(workspace))?.definition;
  if (revisions.length > 0 && !obeyedModel) return undefined;

  const obeyed =
    obeyedModel === undefined || isCompatible(obeyedModel, model) ? hashModel(model) : hashModel(obeyedModel);
  if (obeyed === contentRevision) return undefined;
  return { file: contentRevisionFile, text: contentRevisionText(obeyed) };
}
