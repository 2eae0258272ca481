import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['test/**/*.test.ts'],
    setupFiles: ['test/support/seed.ts'],
    // Tests wait for the program that they start: one for each core, none kept for the runner itself.
    maxWorkers: availableParallelism(),
    testTimeout: 120_000,
    hookTimeout: 120_000,
  },
});
