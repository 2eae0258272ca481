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

/** Those that start processes, try each change of the disk, or thousands of cases: what takes more than a few seconds. */
const slow = [
  'test/hostile/**',
  'test/{algebra,answer,anywhere,bounds,budget,call,checkPart,compileCache,completion,crash,dataNames,edit,environments,export}.test.ts',
  'test/{exportEntries,extras,fuzz,journal,kept,kinds,learn,learnTypes,lines,links,lock,makingSteps,map,memory,mergeHistory,migration,migrationSql,nesting,outside,output}.test.ts',
  'test/{pack,page,patterns,plainYaml,postgres,profile,promises,prompts,docs,remembered,rename,saves}.test.ts',
  'test/{results,revisions,rewriting,schemas,skos,stops,text,threads,undo,undoEdited,visible,walking,width}.test.ts',
];
const shared = {
  // Files share what is loaded, and what the engine made of it: no test leaves anything behind.
  isolate: false,
  setupFiles: ['test/support/seed.ts'],
  env: { TMPDIR: process.env.TMPDIR ?? folderForTests() },
  testTimeout: 120_000,
  hookTimeout: 120_000,
};

export default defineConfig({
  test: {
    // Two more than there are processors: many tests wait for a process that they started.
    maxWorkers: availableParallelism() + 2,
    // What tests call is the build: a watch runs them again when that changes.
    forceRerunTriggers: ['**/dist/program.js'],
    projects: [
      {
        test: { ...shared, name: 'slow', include: slow.map((one) => (one.endsWith('**') ? `${one}/*.test.ts` : one)) },
      },
      { test: { ...shared, name: 'fast', include: ['test/**/*.test.ts'], exclude: slow } },
    ],
  },
});
