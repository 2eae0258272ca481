import { spawnSync } from 'node:child_process';
import { compact } from '../core/plain/json.ts';
import { Trouble } from './trouble.ts';

const mostBytes = 1 << 30;

/** What git prints; `undefined` where it ends with an error. @throws {Trouble} where there is no git or no repository. */
export function git(root: string, args: readonly string[], input?: string): Buffer | undefined {
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
  if (ran.status !== 0) return undefined;
  return ran.stdout;
}

/** A commit by any name that git knows; `undefined` where it knows none. */
export const commitNamed = (root: string, name: string): string | undefined =>
  git(root, ['rev-parse', '--verify', '--quiet', '--end-of-options', `${name}^{commit}`])
    ?.toString()
    .trim() || undefined;

/** The commit that a file of a workspace came with; `undefined` where it is in none. */
export const commitAdding = (root: string, file: string): string | undefined =>
  git(root, ['log', '--diff-filter=A', '--format=%H', '-n', '1', '--', file])?.toString().trim() || undefined;

/** The files of a workspace that differ from a commit: changed, come, gone, and those that git does not know yet. */
export function filesChangedSince(root: string, commit: string): readonly string[] {
  const lists = [
    ['diff', '--name-only', '-z', '--no-renames', '--relative', commit, '--', '.'],
    ['ls-files', '--others', '--exclude-standard', '-z', '--', '.'],
  ].map((args) => (git(root, args) ?? '').toString());
  return lists.flatMap((list) => list.split('\0').filter((file) => file !== ''));
}

/** Files of a workspace as they were at a commit, below some paths of it, by their paths below the workspace. */
export function filesAt(root: string, commit: string, paths: readonly string[]): ReadonlyMap<string, Buffer> {
  if (paths.length === 0) return new Map();

  const prefix = (git(root, ['rev-parse', '--show-prefix']) ?? '').toString().trim();
  const listed = git(root, ['ls-tree', '-r', '-z', '--full-tree', commit, '--', ...paths.map((path) => prefix + path)]);
  const blobs = (listed ?? '')
    .toString()
    .split('\0')
    .flatMap((line) => {
      const [, blob = '', file = ''] = /^100\d{3} blob ([0-9a-f]+)\t(.+)$/su.exec(line) ?? [];
      if (blob === '') return [];
      return [{ blob, file: file.slice(prefix.length) }];
    });
  const contents = contentsOf(
    root,
    blobs.map(({ blob }) => blob),
  );

  return new Map(blobs.map(({ file }, index) => [file, contents[index] ?? Buffer.alloc(0)]));
}

/** The contents of git objects, all from one process: each is a line with its size, then so many bytes. */
function contentsOf(root: string, blobs: readonly string[]): readonly Buffer[] {
  const output = git(root, ['cat-file', '--batch'], `${blobs.join('\n')}\n`) ?? Buffer.alloc(0);
  let index = 0;
  return blobs.map(() => {
    const end = output.indexOf('\n', index);
    const size = Number(output.subarray(index, end).toString().split(' ')[2]);
    const content = output.subarray(end + 1, end + 1 + size);
    index = end + 1 + size + 1;
    return content;
  });
}

/** The two sides of a merge that is under way, or of the last commit where that is one. */
export interface MergeSides {
  readonly ours: string;
  readonly theirs: string;
  /** Where they parted. */
  readonly base: string;
}

/** The sides of the merge that a workspace is in, or was made by; `undefined` where it is in none. */
export function mergeSides(root: string): MergeSides | undefined {
  const merging = commitNamed(root, 'MERGE_HEAD');
  const [ours, theirs] = merging
    ? [commitNamed(root, 'HEAD'), merging]
    : [commitNamed(root, 'HEAD^1'), commitNamed(root, 'HEAD^2')];
  const base = ours && theirs ? git(root, ['merge-base', ours, theirs])?.toString().trim() : undefined;
  if (ours && theirs && base) return { ours, theirs, base };
  return undefined;
}
