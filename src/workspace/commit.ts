import fs from 'node:fs';
import path from 'node:path';
import { usualLimits } from '../core/plain/limits.ts';
import { commitNamed, filesAt } from './git.ts';
import { makeFolder } from './makeFolder.ts';
import { openSoundWorkspace, type Workspace } from './open.ts';
import { workspaceFile } from './readFiles.ts';
import { temporaryFolder } from './temporaryFolder.ts';
import { Trouble } from './trouble.ts';
import { upgradedFiles } from './upgraded.ts';

/** The workspace as it was at a commit of the git repository that it is in: its model alone. @throws {Trouble} */
export function workspaceAt(root: string, commit: string): Workspace {
  const folder = laidOut(filesOf(root, commit, ['model']));
  try {
    return openSoundWorkspace(folder);
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

/**
 * Does something with a workspace as it was at a commit, entries and all: in its own folder, which is gone afterwards.
 * @throws {Trouble}
 */
export async function atCommit<T>(root: string, commit: string, work: (folder: string) => Promise<T>): Promise<T> {
  const folder = laidOut(filesOf(root, commit, ['model', 'content']));
  try {
    return await work(folder);
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

/** Files of a workspace as they were at a commit, with those that say what it is. */
function filesOf(root: string, commit: string, below: readonly string[]): ReadonlyMap<string, Buffer> {
  const id = commitNamed(root, commit);
  if (id === undefined)
    throw new Trouble('no-commit', `there is no commit \`${commit}\` in the repository of this workspace`, {
      mend: 'Name one that git knows: commit:HEAD~1, commit:main, or its hash.',
    });

  const files = filesAt(root, id, [workspaceFile, ...below]);
  if (files.has(workspaceFile)) return files;
  throw new Trouble('no-workspace', `the workspace was not there yet at ${commit}`, { mend: 'Name a later commit.' });
}

/** Lays files out in a folder of their own, so that they are read like any workspace; keys of earlier models in their present places. */
function laidOut(files: ReadonlyMap<string, Buffer>): string {
  const folder = temporaryFolder('commit');
  try {
    for (const [file, content] of files) {
      const place = path.join(folder, file);
      makeFolder(path.dirname(place));
      fs.writeFileSync(place, content);
    }

    const isEarlier = [...files].some(([file, content]) => file.startsWith('model/') && content.includes('newEntries'));
    for (const { file, text } of isEarlier ? upgradedFiles(folder, usualLimits) : [])
      fs.writeFileSync(path.join(folder, file), text);

    return folder;
  } catch (error) {
    fs.rmSync(folder, { recursive: true, force: true });
    throw error;
  }
}
