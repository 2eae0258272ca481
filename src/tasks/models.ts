import fs from 'node:fs';
import path from 'node:path';
import type { ModelDoc } from '../core/definition/model.ts';
import { onceFor } from '../core/plain/once.ts';
import { list } from '../core/plain/words.ts';
import { hashModel } from '../core/revision/canonical.ts';
import type { Revision } from '../core/revision/chain.ts';
import { workspaceAt } from '../workspace/commit.ts';
import { openSoundWorkspace, type Workspace } from '../workspace/open.ts';
import { workspaceFile } from '../workspace/readFiles.ts';
import { Trouble } from '../workspace/trouble.ts';

/** A model that a person named. */
export interface NamedModel {
  /** `revision 1`, `the working files` */
  readonly name: string;
  readonly revision: number | undefined;
  readonly definition: ModelDoc;
  readonly hash: string;
}

/** The model of the working files. */
export const workingFiles = (workspace: Workspace): NamedModel => ({
  name: 'the working files',
  revision: undefined,
  definition: workspace.model.definition,
  hash: workspace.modelHash,
});

/** A revision as a named model. */
export const asNamed = onceFor(
  ({ revision, model }: Revision): NamedModel => ({
    name: `revision ${revision}`,
    revision,
    definition: model,
    hash: hashModel(model),
  }),
);

/** A model by the number of the newest revision that says the same; as it was named where none does. */
export const asRecorded = (model: NamedModel, { records }: Workspace): NamedModel =>
  records.revisions.map(asNamed).findLast(({ hash }) => hash === model.hash) ?? model;

/** The text before a commit of git. */
const commitMark = 'commit:';

/**
 * The model that a person means: `working` for the files as they are, a number for a recorded revision, `sealed` for
 * the newest of these, `commit:HEAD~1` for the files at a commit, or the folder of another workspace.
 * @throws {Trouble}
 */
export function findModel(workspace: Workspace, typed: string): NamedModel {
  if (typed === 'working') return workingFiles(workspace);
  if (typed.startsWith(commitMark))
    return { ...workingFiles(workspaceAt(workspace.root, typed.slice(commitMark.length))), name: typed };
  if (/[./\\]/u.test(typed) && fs.existsSync(path.join(typed, workspaceFile)))
    return { ...workingFiles(openSoundWorkspace(typed)), name: typed };

  const { revisions } = workspace.records;
  if (revisions.length === 0)
    throw new Trouble('no-revision', 'no revision is recorded yet, so there is nothing to compare with', {
      mend: 'Record the model as it is: lumbrik seal -m "The first model"',
    });

  const revision =
    typed === 'sealed' ? revisions.at(-1) : revisions.find((revision) => String(revision.revision) === typed);
  if (revision) return asNamed(revision);
  throw new Trouble('no-revision', `there is no revision ${typed}`, {
    mend: `Name ${list([...revisions.map((revision) => String(revision.revision)), '`sealed` (the newest)', '`working` (the files as they are)', 'a commit (commit:HEAD~1)', 'the folder of another workspace (./other)'], 'or')}.`,
  });
}
