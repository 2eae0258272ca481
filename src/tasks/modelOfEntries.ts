import { isError } from '../core/entry/severities.ts';
import { link } from '../core/model/link.ts';
import { list } from '../core/plain/words.ts';
import { checkPass } from '../passes/check.ts';
import { walk } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import type { Workspace } from '../workspace/open.ts';
import { refuse, Trouble } from '../workspace/trouble.ts';
import { asNamed, findModel, type NamedModel, workingFiles } from './models.ts';
import { reachedModel } from './reachedModel.ts';

/**
 * The model that the entries obey: recorded with them. Where that is not recorded and revisions are, it is worked out
 * from the entries, and never guessed: only where they obey exactly one of the recorded models is it that one.
 * @throws {Trouble} where it cannot be reported.
 */
export async function obeyedModel(workspace: Workspace): Promise<NamedModel> {
  const recorded = recordedModel(workspace);
  if (recorded) return recorded;

  const fitting = await fittingModels(workspace);
  const [only, ...rest] = fitting;
  if (only && rest.length === 0) return only;
  if (workspace.records.revisions.length === 0) return findModel(workspace, 'sealed');
  throw refuse('unknown-standing', `which model the entries obey is not recorded: ${sayFitting(fitting)}`, {
    mend: 'Bring content/revision.yaml back from version control, or say which: lumbrik entry revision <number>',
  });
}

/** The same where it is enough to know it or not. */
export async function obeyedModelIfKnown(workspace: Workspace): Promise<NamedModel | undefined> {
  const obeyedHash = workspace.records.contentRevision;
  if (obeyedHash !== undefined) return modelObeyed(obeyedHash, workspace);
  const fitting = await fittingModels(workspace);
  if (fitting.length !== 1) return undefined;
  return fitting[0];
}

/** Whether the entries may be counted against a model: they obey it, or nothing is recorded yet that they could obey. */
export async function mayObey(workspace: Workspace, { hash }: NamedModel): Promise<boolean> {
  const isUnrecorded = workspace.records.contentRevision === undefined && workspace.records.revisions.length === 0;
  return isUnrecorded || (await obeyedModelIfKnown(workspace))?.hash === hash;
}

/** The model that is recorded with the entries; `undefined` where none is. @throws {Trouble} where it is nowhere to be found. */
function recordedModel(workspace: Workspace): NamedModel | undefined {
  const obeyedHash = workspace.records.contentRevision;
  if (obeyedHash === undefined) return undefined;

  const obeyed = modelObeyed(obeyedHash, workspace);
  if (obeyed) return obeyed;
  throw new Trouble('unknown-standing', 'the entries obey a model that no revision records', {
    mend: 'Bring the missing file in revisions/ back from version control; lumbrik history lists the revisions. Or record the one that they obey: lumbrik entry revision <number>',
  });
}

/** The model of a hash, among the revisions and the working files; `undefined` where none of them has it. */
export const modelWith = (modelHash: string, workspace: Workspace): NamedModel | undefined =>
  workspace.records.revisions.map(asNamed).find(({ hash }) => hash === modelHash) ??
  (workspace.modelHash === modelHash ? workingFiles(workspace) : undefined);

/** The model of a hash that entries may obey: one that a migration led to, too, and nobody recorded. */
export const modelObeyed = (modelHash: string, workspace: Workspace): NamedModel | undefined =>
  modelWith(modelHash, workspace) ?? reachedModel(modelHash, workspace);

/** The recorded models that all entries obey, the newest first; where there is no entry, the newest alone. */
export async function fittingModels(workspace: Workspace): Promise<readonly NamedModel[]> {
  const models = new Map<string, NamedModel>();
  for (const revision of workspace.records.revisions.toReversed()) {
    const named = asNamed(revision);
    if (!models.has(named.hash)) models.set(named.hash, named);
  }

  const fitting: NamedModel[] = [];
  for (const named of models.values()) {
    const store = openStore(workspace);
    const [{ findings, looked }] = await walk(store, [checkPass(store, link(named.definition))]);
    if (!findings.some(isError)) fitting.push(named);
    if (looked === 0) break;
  }

  return fitting;
}

/** What the entries say of the recorded models, in words. */
const sayFitting = (fitting: readonly NamedModel[]): string => {
  if (fitting.length === 0) return 'they obey none of the recorded revisions without a mistake';
  return `they would obey ${list(fitting.map(({ name }) => name))}`;
};
