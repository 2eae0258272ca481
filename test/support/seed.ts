import os from 'node:os';
import path from 'node:path';
import { takeCoverage } from 'node:v8';
import fc from 'fast-check';
import { afterAll } from 'vitest';

/**
 * Property tests try the same cases in each run, so that a build that passed passes again. SEED=random looks elsewhere,
 * RUNS=5000 further; a counterexample names the seed that finds it again.
 */
const { SEED, RUNS } = process.env;
fc.configureGlobal({
  ...(SEED === 'random' ? {} : { seed: Number(SEED ?? 20_261_123) }),
  ...(RUNS === undefined ? {} : { numRuns: Number(RUNS) }),
});

// The key that journals are marked with is one of the tests' own, in process as in the built program.
process.env.XDG_STATE_HOME = path.join(os.tmpdir(), 'lumbrik-tests');

// What ran is written down by Node at the end of a process; this one is ended from outside (npm run coverage).
if (process.env.NODE_V8_COVERAGE) afterAll(takeCoverage);
