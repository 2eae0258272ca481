#!/usr/bin/env node
// Runs a command with another version of Node.js, from the registry:
//
//   node scripts/onNode.mjs 20.19.0 npm run demo
//
// What was downloaded is kept in node_modules/.cache/nodes. Without a command, it says in which folder the program is.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { delimiter, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const [version, command, ...args] = process.argv.slice(2);
if (!/^\d+\.\d+\.\d+$/u.test(version ?? '')) fail('Say a version, such as 20.19.0.');
const folder = fileURLToPath(new URL(`../node_modules/.cache/nodes/${version}`, import.meta.url));
const bin = join(folder, 'package/bin');

if (!existsSync(join(bin, 'node'))) {
  mkdirSync(folder, { recursive: true });
  const packed = run('npm', ['pack', '--silent', `node-${process.platform}-${process.arch}@${version}`]);
  const file = packed.trim().split('\n').at(-1) ?? '';
  run('tar', ['xzf', file, 'package/bin/node']);
  rmSync(join(folder, file));
}

if (command === undefined) process.stdout.write(`${bin}\n`);
else {
  const env = { ...process.env, PATH: `${bin}${delimiter}${process.env.PATH}` };
  process.exitCode = spawnSync(command, args, { stdio: 'inherit', env }).status ?? 1;
}

function run(program, words) {
  const { status, stdout, stderr } = spawnSync(program, words, { cwd: folder, encoding: 'utf8' });
  if (status !== 0) fail(`${program} ${words.join(' ')}: ${stderr}`);
  return stdout;
}

function fail(why) {
  process.stderr.write(`${why}\n`);
  process.exit(2);
}
