#!/usr/bin/env node
// Builds again whenever a source changes, and runs the tests that are quick.
import { spawn, spawnSync } from 'node:child_process';
import { watch } from 'node:fs';

const build = () => spawnSync(process.execPath, ['scripts/build.mjs'], { stdio: 'inherit' });
build();
spawn(process.execPath, ['node_modules/vitest/vitest.mjs', 'watch', '--project', 'fast'], { stdio: 'inherit' }).on(
  'exit',
  (code) => process.exit(code ?? 0),
);

let waiting;
watch('src', { recursive: true }, () => {
  clearTimeout(waiting);
  waiting = setTimeout(build, 200);
});
