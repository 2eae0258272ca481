import fs from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { defineConfig } from 'vitest/config';

/**
 * Where tests keep their folders: in memory where the system has such a place. Lumbrik flushes what it writes to the
 * disk, and a few thousand workspaces would wait for that and nothing else.
 */
function folderForTests(): string {
  const inMemory = '/dev/shm';
  try {
    fs.accessSync(inMemory, fs.constants.W_OK);
    return inMemory;
  } catch {
    return tmpdir();
  }
}

export default defineConfig({
  test: {
    include: ['test/**/*.test.ts'],
    setupFiles: ['test/support/seed.ts'],
    env: { TMPDIR: process.env.TMPDIR ?? folderForTests() },
    maxWorkers: availableParallelism(),
    testTimeout: 120_000,
    hookTimeout: 120_000,
  },
});
