import { z } from 'zod';
import { compare } from '../core/diff/compare.ts';
import { rateDifference, worstOf } from '../core/diff/rating.ts';
import type { ModelDoc } from '../core/model/document.ts';
import { hashModel } from '../core/revision/canonical.ts';
import { makeRevision, type Revision, revisionOf } from '../core/revision/chain.ts';
import { firstVersion, nextVersion } from '../core/revision/version.ts';
import { timestamp } from '../workspace/clock.ts';
import { refuseInterrupted } from '../workspace/journal.ts';
import { withLock } from '../workspace/lock.ts';
import { findWorkspace, openSoundWorkspace } from '../workspace/open.ts';
import { readRevisions, recordRevision } from '../workspace/revisions.ts';
import { readStanding, writeStanding } from '../workspace/standing.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { changesBetween } from './changes.ts';
import { Change, head, Rating, RevisionGist, resultVersion, Standing } from './result.ts';
import { isSafeFor, standingOf } from './standing.ts';

export const SealResult = z.strictObject({
  ...head('seal'),
  ...RevisionGist.shape,
  /** The version before; absent for the first revision. */
  previousVersion: z.string().optional(),
  file: z.string(),
  hash: z.string(),
  ...Rating,
  changes: z.array(Change),
  standing: Standing,
});
export type SealResult = z.output<typeof SealResult>;

/** Records the model in the working files as the next revision. */
export async function seal(call: Call, message: string): Promise<SealResult> {
  if (message.trim() === '')
    throw new Trouble('no-message', 'a revision needs a message', {
      mend: 'Say in a sentence what changed: lumbrik seal -m "…"',
    });
  return withLock(findWorkspace(call.workspace), async () => {
    const workspace = openSoundWorkspace(call.workspace);
    refuseInterrupted(workspace.root);
    const revisions = readRevisions(workspace.root);
    const last = revisions.at(-1);
    if (last && hashModel(last.model) === workspace.modelHash)
      throw new Trouble('nothing-changed', `nothing changed since revision ${last.revision} (${last.version})`, {
        mend: 'Edit the files in model/, then seal again.',
      });
    const { form } = workspace.model;
    const differences = last ? compare(last.model, form).differences : [];
    const rating = worstOf(differences.map(rateDifference));
    const revision = makeRevision({
      revision: (last?.revision ?? 0) + 1,
      version: last ? nextVersion(last.version, rating) : firstVersion,
      date: timestamp(),
      message: message.trim(),
      previous: last?.hash ?? null,
      model: form,
    });
    const file = recordRevision(workspace.root, revision);
    carryStanding(workspace.root, form, revisions);
    const { model: _, previous: __, ...gist } = revision;
    return {
      lumbrik: resultVersion,
      command: 'seal',
      ...gist,
      ...(last ? { previousVersion: last.version } : {}),
      file,
      ...rating,
      changes: last ? changesBetween(differences, last.model, form) : [],
      standing: await standingOf(workspace),
    };
  });
}

/** Entries obey the new revision at once where they obeyed an older one and nothing has to be migrated. */
function carryStanding(root: string, model: ModelDoc, revisions: readonly Revision[]): void {
  const standing = readStanding(root);
  const obeyed = standing === undefined ? undefined : revisionOf(standing, revisions);
  if (standing === undefined || (obeyed && isSafeFor(obeyed.model, model))) writeStanding(root, hashModel(model));
}
