#!/usr/bin/env node
// Runs tests (all, or those that are named) and tells which lines of src/ ran in them, in process and in processes of their
// own: a table, and pages in coverage/.
import { spawnSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { resolve } from 'node:path';

const folder = 'coverage';
const raw = `${folder}/raw`;
const watched = { NODE_V8_COVERAGE: resolve(raw) };
const run = (args, env = {}) =>
  spawnSync(process.execPath, args, { stdio: 'inherit', env: { ...process.env, ...env } }).status ?? 1;

rmSync(folder, { recursive: true, force: true });
run(['scripts/build.mjs'], watched);
rmSync(raw, { recursive: true, force: true });
const status = run(['node_modules/vitest/vitest.mjs', 'run', ...process.argv.slice(2)], watched);
run([
  'node_modules/c8/bin/c8.js',
  'report',
  ...['--temp-directory', raw, '--reports-dir', folder, '--reporter', 'text', '--reporter', 'html'],
  // The sources that a build names, not the build; those that no test loads count as well.
  ...['--exclude-after-remap', '--include', '**/src/**', '--all', '--src', 'src'],
]);
rmSync(raw, { recursive: true, force: true });
run(['scripts/build.mjs']);
process.exitCode = status;
