import fs from 'node:fs';
import path from 'node:path';
import type { ModelDoc } from '../core/definition/model.ts';
import type { Rename } from '../core/definition/rename.ts';
import { compare } from '../core/diff/compare.ts';
import { compact } from '../core/plain/json.ts';
import { atCommit } from '../workspace/commit.ts';
import { commitAdding } from '../workspace/git.ts';
import { openSoundWorkspace, type Workspace } from '../workspace/open.ts';
import { workspaceFile } from '../workspace/readFiles.ts';
import { fileOfRevision } from '../workspace/revisions.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { knownRenames } from './knownRenames.ts';
import { reading } from './openForCall.ts';
import { type ProfileCall, type ProfileResult, profile } from './profile.ts';
import { readRenameOptions } from './renameOptions.ts';

/**
 * How fields are used, and how they were: at a commit (`commit:HEAD~1`), when a revision was recorded (by its number, or
 * `sealed`), or in another workspace (its folder).
 */
export async function profileBefore(call: Call, request: ProfileCall, revisionName: string): Promise<ProfileResult> {
  const workspace = await reading(call);
  const { model, root } = workspace;
  const then = await atTime(workspace, revisionName, async (folder) => {
    const { model: older, languages } = openSoundWorkspace(folder);
    const names = namesBefore(root, older.definition, model.definition);
    // A language that came since is read in what was in for it.
    const language =
      request.language !== undefined && languages.includes(request.language) ? request.language : undefined;
    const address = request.address === undefined ? undefined : names(request.address);
    const isThere = address === undefined || hasAddress(older.definition, address);
    const olderProfile = isThere
      ? await profile({ ...call, workspace: folder }, { ...request, address, language })
      : undefined;

    return { names, types: olderProfile?.types ?? [] };
  });
  // What every entry has of itself is called as the workspace available says.
  const current = await profile(call, request);
  const { names } = then;

  return {
    ...current,
    types: current.types.map((type) => ({
      ...compact({ ...type, was: otherThan(type.type, names(type.type)) }),
      fields: type.fields.map((field) => compact({ ...field, was: otherThan(field.address, names(field.address)) })),
    })),
    before: { said: revisionName, name: nameOf(revisionName), types: then.types },
  };
}

const otherThan = (current: string, then: string): string | undefined => {
  if (current === then) return undefined;
  return then;
};

/** Does something in the folder of a workspace as it was. @throws {Trouble} where that is not known. */
async function atTime<T>(
  { root, records }: Workspace,
  revisionName: string,
  work: (folder: string) => Promise<T>,
): Promise<T> {
  if (/[./\\]/u.test(revisionName) && fs.existsSync(path.join(revisionName, workspaceFile)))
    return work(path.resolve(revisionName));
  if (revisionName.startsWith('commit:')) return atCommit(root, revisionName.slice('commit:'.length), work);

  const { revisions } = records;
  const revision =
    revisionName === 'sealed'
      ? revisions.at(-1)
      : revisions.find((revision) => String(revision.revision) === revisionName);
  if (!revision)
    throw new Trouble('no-revision', `there is no revision ${revisionName}`, {
      mend: 'Name a recorded revision, a commit (--before commit:HEAD~1), or the folder of another workspace (--before ./other).',
    });

  const commit = commitAdding(root, fileOfRevision(revision.revision));
  if (commit !== undefined) return atCommit(root, commit, work);
  throw new Trouble('no-commit', `revision ${revision.revision} is in no commit, so nobody knows the entries of then`, {
    mend: 'Name a commit instead: --before commit:HEAD~1',
  });
}

const nameOf = (text: string): string => {
  if (!/^\d+$/u.test(text)) return text;
  return `revision ${text}`;
};

/** What addresses of a model were called in an older one. */
function namesBefore(root: string, older: ModelDoc, newer: ModelDoc): (address: string) => string {
  const stated = readRenameOptions(knownRenames(root, [older, newer]));
  const renames = compare(older, newer, stated).renames.map(({ rename }) => rename);
  const types = new Map(
    renames.flatMap((rename) => (rename.what === 'type' ? [[rename.to, rename.from] as const] : [])),
  );
  const fields = renames.filter((rename): rename is Extract<Rename, { what: 'field' }> => rename.what === 'field');

  return (address) => {
    const [name = '', ...rest] = address.split('.');
    const type = types.get(name) ?? name;
    const field = fields.reduce(
      (name, field) =>
        field.type === type && `${name}.`.startsWith(`${field.to}.`) ? field.from + name.slice(field.to.length) : name,
      rest.join('.'),
    );

    if (rest.length === 0) return type;
    return `${type}.${field}`;
  };
}

/** Whether a model has a type or a field of some address. */
function hasAddress({ types }: ModelDoc, address: string): boolean {
  const [type = '', field] = address.split('.');
  const fields = types[type]?.fields;
  return fields !== undefined && (field === undefined || Object.hasOwn(fields, field));
}
