import type { ModelDoc } from '../core/definition/model.ts';
import { compare } from '../core/diff/compare.ts';
import { ratingOf } from '../core/diff/impact.ts';
import { revisionOf } from '../core/revision/chain.ts';
import type { Workspace } from '../workspace/open.ts';
import type { ContentState } from './result.ts';

/** Where the entries stand beside the model in the working files. */
export async function contentStateOf({
  root,
  model,
  modelHash,
  records: { revisions, contentRevision },
}: Workspace): Promise<ContentState> {
  if (contentRevision === undefined) return { state: revisions.length === 0 ? 'unrecorded' : 'unknown' };
  const revision = revisionOf(contentRevision, revisions);
  const numbered = revision ? { revision: revision.revision } : {};
  if (contentRevision === modelHash) return { state: 'here', ...numbered };
  if (!revision) return { state: 'unknown' };
  if (isCompatible(revision.model, model.definition)) return { state: 'fits', ...numbered };
  // What reads migrations is loaded only where one may be missing.
  const { readMigrations } = await import('./migrationFiles.ts');
  const migration = readMigrations(root).find(({ migration: { from } }) => from === contentRevision)?.file;
  return { state: 'behind', ...numbered, ...(migration === undefined ? {} : { migration }) };
}

/** Whether entries that obey one model obey another as they are, whatever they hold. */
export const isCompatible = (before: ModelDoc, after: ModelDoc): boolean =>
  ratingOf(compare(before, after)).entries === 'valid';
