import type { ModelDoc } from '../core/definition/model.ts';
import { compare } from '../core/diff/compare.ts';
import { ratingOf } from '../core/diff/impact.ts';
import { revisionOf } from '../core/revision/chain.ts';
import type { Workspace } from '../workspace/open.ts';
import type { ContentState } from './result.ts';

/** Where the entries are beside the model in the working files. */
export async function contentStateOf(workspace: Workspace): Promise<ContentState> {
  const {
    root,
    model,
    modelHash,
    records: { revisions, contentRevision },
  } = workspace;
  if (contentRevision === undefined) return { state: revisions.length === 0 ? 'unrecorded' : 'unknown' };

  const revision = revisionOf(contentRevision, revisions);
  const numbered = revision ? { revision: revision.revision } : {};
  if (contentRevision === modelHash) return { state: 'here', ...numbered };

  // What reads migrations is loaded only where one may be missing.
  const { reachedModel } = await import('./reachedModel.ts');
  const obeyed = revision?.model ?? reachedModel(contentRevision, workspace)?.definition;
  if (!obeyed) return { state: 'unknown' };
  if (isCompatible(obeyed, model.definition)) return { state: 'fits', ...numbered };

  const { readMigrations } = await import('./migrationFiles.ts');
  const migration = readMigrations(root).find(({ migration: { from } }) => from === contentRevision)?.file;

  return { state: 'behind', ...numbered, ...(migration === undefined ? {} : { migration }) };
}

/** Whether entries that obey one model obey another as they are, whatever they hold. */
export const isCompatible = (before: ModelDoc, after: ModelDoc): boolean =>
  ratingOf(compare(before, after)).entries === 'valid';
