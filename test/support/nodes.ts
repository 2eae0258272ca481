import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { root } from './program.ts';

/** The versions of Node.js that Lumbrik is tried on: the lowest that it supports, and a later one of each line. */
export const supportedNodes = ['20.19.0', '20.20.2', '22.23.5', '24.22.3', '26.12.1'] as const;

/** Where what was downloaded is kept between runs. */
const kept = path.join(root, 'node_modules/.cache/nodes');

/** Whether such a program can be had: where `LUMBRIK_TEST_NODES` is `needed` as in CI, its absence is a failure. */
export const hasNodes = process.env.LUMBRIK_TEST_NODES === 'needed' || supportedNodes.every((one) => isKept(one));

/** The folder with the program of a version of Node.js, from the registry. @throws {Error} where it cannot be had. */
export function folderOfNode(version: string): string {
  const folder = path.join(kept, version);
  if (!isKept(version)) {
    fs.mkdirSync(folder, { recursive: true });
    const name = `node-${process.platform}-${process.arch}@${version}`;
    const run = (command: string, args: readonly string[]): string => {
      const ran = spawnSync(command, args, { cwd: folder, encoding: 'utf8' });
      if (ran.status !== 0) throw new Error(`${command} ${args.join(' ')}: ${ran.stderr}`);
      return ran.stdout.trim();
    };
    const file = run('npm', ['pack', '--silent', name]).split('\n').at(-1) ?? '';
    run('tar', ['xzf', file, 'package/bin/node']);
    fs.rmSync(path.join(folder, file));
  }
  return path.join(folder, 'package/bin');
}

function isKept(version: string): boolean {
  return fs.existsSync(path.join(kept, version, 'package/bin/node'));
}
