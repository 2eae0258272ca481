#!/usr/bin/env node
// Measures lumbrik beside a peer that does the unavoidable part of the same work, in one run, and prints the ratios.
// Usage: npm run bench [-- --entries 10000 --rounds 15]
import { spawnSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { generate } from './generate.mjs';

const { values } = parseArgs({
  options: { entries: { type: 'string', default: '10000' }, rounds: { type: 'string', default: '15' } },
});
const [entries, rounds] = [Number(values.entries), Number(values.rounds)];
const program = fileURLToPath(new URL('../dist/cli.js', import.meta.url));
const parser = fileURLToPath(new URL('./parseOnly.mjs', import.meta.url));
const folder = join(tmpdir(), `lumbrik-bench-${process.pid}`);

function once(args, cwd) {
  const started = process.hrtime.bigint();
  const { status, stderr } = spawnSync('/usr/bin/env', ['node', ...args], {
    cwd,
    stdio: ['ignore', 'ignore', 'pipe'],
    encoding: 'utf8',
  });
  if (status !== 0) throw new Error(`node ${args.join(' ')} ended with ${status}:\n${stderr}`);
  return Number(process.hrtime.bigint() - started) / 1e6;
}

const median = (numbers) => numbers.toSorted((a, b) => a - b)[numbers.length >> 1];

/** Times both in turns, so that whatever else the machine does hits both alike. */
function compare(name, ours, peer, times, cwd = folder) {
  const [a, b] = [[], []];
  once(ours, cwd);
  once(peer.args, cwd);
  for (let i = 0; i < times; i += 1) {
    a.push(once(ours, cwd));
    b.push(once(peer.args, cwd));
  }
  const [mine, theirs] = [median(a), median(b)];
  console.log(
    `${name.padEnd(34)} ${mine.toFixed(0).padStart(7)} ms   ${peer.name.padEnd(30)} ${theirs.toFixed(0).padStart(7)} ms   ${(mine / theirs).toFixed(2)} times`,
  );
}

try {
  const made = generate(folder, entries);
  console.log(`node ${process.version}, ${made} entries, medians of ${rounds} rounds (3 for the large workspace)\n`);
  compare('lumbrik --version', [program, '--version'], { name: 'node -e 0', args: ['-e', '0'] }, rounds);
  compare('lumbrik --help', [program, '--help'], { name: 'node -e 0', args: ['-e', '0'] }, rounds);
  compare(
    'lumbrik check (everything)',
    [program, 'check'],
    { name: 'reading and parsing alone', args: [parser, folder] },
    3,
  );
  const peak = spawnSync(
    '/usr/bin/env',
    [
      'node',
      '--input-type=module',
      '-e',
      `process.argv[2]='check';process.on('exit',()=>process.stderr.write(String(process.resourceUsage().maxRSS)));await import(${JSON.stringify(program)})`,
      'x',
      'check',
    ],
    { cwd: folder, encoding: 'utf8' },
  );
  const megabytes = Number(/(\d+)\s*$/u.exec(peak.stderr)?.[1]) / 1024;
  console.log(`\nlumbrik check, peak memory         ${megabytes.toFixed(0).padStart(7)} MB`);
} finally {
  rmSync(folder, { recursive: true, force: true });
}
