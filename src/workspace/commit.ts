import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { commitNamed, filesAt } from './git.ts';
import { openSoundWorkspace, type Workspace, workspaceFile } from './open.ts';
import { Trouble } from './trouble.ts';

/** The workspace as it was at a commit of the git repository that it lies in: its model alone. @throws {Trouble} */
export function workspaceAt(root: string, commit: string): Workspace {
  const id = commitNamed(root, commit);
  if (id === undefined)
    throw new Trouble('no-commit', `there is no commit \`${commit}\` in the repository of this workspace`, {
      mend: 'Name one that git knows: commit:HEAD~1, commit:main, or its hash.',
    });
  const files = filesAt(root, id, [workspaceFile, 'model']);
  if (!files.has(workspaceFile))
    throw new Trouble('no-workspace', `the workspace was not there yet at ${commit}`, { mend: 'Name a later commit.' });
  return inTemporary(files);
}

/** Lays files out in a folder of their own, so that they are read like any workspace, and takes it away again. */
function inTemporary(files: ReadonlyMap<string, Buffer>): Workspace {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'lumbrik-commit-'));
  try {
    for (const [file, content] of files) {
      const place = path.join(folder, file);
      fs.mkdirSync(path.dirname(place), { recursive: true });
      fs.writeFileSync(place, content);
    }
    return openSoundWorkspace(folder);
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}
