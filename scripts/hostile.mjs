#!/usr/bin/env node
// Runs all of the hostile tests, of which every build runs a sample: kills, mutations, doubling. Takes about an hour.
import { spawnSync } from 'node:child_process';

const { status } = spawnSync(
  process.execPath,
  ['node_modules/vitest/vitest.mjs', 'run', 'test/hostile', ...process.argv.slice(2)],
  {
    stdio: 'inherit',
    env: { ...process.env, HOSTILE: 'whole' },
  },
);
process.exitCode = status ?? 1;
