import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { compact } from '../core/plain/json.ts';
import { openSoundWorkspace, type Workspace, workspaceFile } from './open.ts';
import { Trouble } from './trouble.ts';

/** The workspace as it was at a commit of the git repository that it lies in: its model alone. @throws {Trouble} */
export function workspaceAt(root: string, commit: string): Workspace {
  const id = git(root, ['rev-parse', '--verify', '--quiet', '--end-of-options', `${commit}^{commit}`]);
  if (id === undefined)
    throw new Trouble('no-commit', `there is no commit \`${commit}\` in the repository of this workspace`, {
      mend: 'Name one that git knows: commit:HEAD~1, commit:main, or its hash.',
    });
  const prefix = (git(root, ['rev-parse', '--show-prefix']) ?? '').toString().trim();
  const listed = git(root, [
    'ls-tree',
    '-r',
    '-z',
    '--full-tree',
    id.toString().trim(),
    '--',
    `${prefix}${workspaceFile}`,
    `${prefix}model`,
  ]);
  const files = (listed ?? '')
    .toString()
    .split('\0')
    .flatMap((line) => {
      const [, blob = '', file = ''] = /^100\d{3} blob ([0-9a-f]+)\t(.+)$/su.exec(line) ?? [];
      return blob === '' ? [] : [{ blob, file: file.slice(prefix.length) }];
    });
  if (!files.some(({ file }) => file === workspaceFile))
    throw new Trouble('no-workspace', `the workspace was not there yet at ${commit}`, { mend: 'Name a later commit.' });

  return inTemporary(
    files,
    contentsOf(
      root,
      files.map(({ blob }) => blob),
    ),
  );
}

/** Lays files out in a folder of their own, so that they are read like any workspace, and takes it away again. */
function inTemporary(files: readonly { readonly file: string }[], contents: readonly Buffer[]): Workspace {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'lumbrik-commit-'));
  try {
    files.forEach(({ file }, index) => {
      const place = path.join(folder, file);
      fs.mkdirSync(path.dirname(place), { recursive: true });
      fs.writeFileSync(place, contents[index] ?? '');
    });
    return openSoundWorkspace(folder);
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

/** The contents of git objects, all from one process: each is a line with its size, then so many bytes. */
function contentsOf(root: string, blobs: readonly string[]): readonly Buffer[] {
  const all = git(root, ['cat-file', '--batch'], `${blobs.join('\n')}\n`) ?? Buffer.alloc(0);
  let at = 0;
  return blobs.map(() => {
    const end = all.indexOf('\n', at);
    const size = Number(all.subarray(at, end).toString().split(' ')[2]);
    const content = all.subarray(end + 1, end + 1 + size);
    at = end + 1 + size + 1;
    return content;
  });
}

const mostBytes = 1 << 30;

/** What git prints; `undefined` where it ends with an error. @throws {Trouble} where there is no git or no repository. */
function git(root: string, args: readonly string[], input?: string): Buffer | undefined {
  const ran = spawnSync(
    'git',
    ['-C', root, ...args],
    compact({ maxBuffer: mostBytes, env: { ...process.env, GIT_OPTIONAL_LOCKS: '0', LC_ALL: 'C' }, input }),
  );
  if (ran.error)
    throw new Trouble('no-git', 'git cannot be started', {
      mend: 'Install git, or name a revision instead.',
      cause: ran.error,
    });
  if (/not a git repository/u.test(ran.stderr.toString()))
    throw new Trouble('no-repository', 'this workspace lies in no git repository', {
      mend: 'Name a revision instead: lumbrik history lists them.',
    });
  return ran.status === 0 ? ran.stdout : undefined;
}
