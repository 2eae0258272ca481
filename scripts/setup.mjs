#!/usr/bin/env node
// Makes a fresh clone ready: installs what package-lock.json names unless it is there already, then builds.
import { spawnSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';

const marker = 'node_modules/.package-lock.json';

const isInstalled = existsSync(marker) && statSync(marker).mtimeMs >= statSync('package-lock.json').mtimeMs;
// Not `npm ci`: it refuses where a registry does not carry the builds of development tools for other platforms.
if (!isInstalled) run('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error']);
run(process.execPath, ['scripts/build.mjs']);

function run(command, args) {
  const { status, error } = spawnSync(command, args, {
    stdio: ['ignore', 'inherit', 'inherit'],
    // npm is no program there but a script, which a shell alone starts.
    shell: process.platform === 'win32' && command === 'npm',
  });
  if (error) throw error;
  if (status !== 0) process.exit(status ?? 1);
}
