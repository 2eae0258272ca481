import { type SpawnSyncReturns, spawnSync } from 'node:child_process';
import os from 'node:os';

/** No settings of the machine that the tests run on, and an author of their own. */
const surroundings = {
  GIT_CONFIG_GLOBAL: os.devNull,
  GIT_CONFIG_NOSYSTEM: '1',
  GIT_AUTHOR_NAME: 'Ada Rook',
  GIT_AUTHOR_EMAIL: 'ada@gannet-sound.example',
  GIT_COMMITTER_NAME: 'Ada Rook',
  GIT_COMMITTER_EMAIL: 'ada@gannet-sound.example',
};

/** Runs git in a folder, whether it does what it is asked or not. */
export function tryGit(
  folder: string,
  args: readonly string[],
  env: Readonly<NodeJS.ProcessEnv> = process.env,
): SpawnSyncReturns<string> {
  return spawnSync('git', args, { cwd: folder, encoding: 'utf8', env: { ...env, ...surroundings } });
}

/** Runs git in a folder, where it has to do what it is asked, and gives what it prints. */
export function git(folder: string, ...args: readonly string[]): string {
  const { status, stdout, stderr } = tryGit(folder, args);
  if (status !== 0) throw new Error(`git ${args.join(' ')}: ${stderr}`);
  return stdout;
}
