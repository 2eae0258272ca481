#!/usr/bin/env node
// Measures lumbrik beside a peer that does the unavoidable part of the same work, in one run, and prints the ratios.
// Usage: npm run bench [-- --entries 10000 --rounds 15]
import { spawnSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { compareCheckers } from './checker.mjs';
import { generate } from './generate.mjs';
import { generateModel, generateTerms } from './generateModel.mjs';

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
  if (status !== 0 && status !== 1) throw new Error(`node ${args.join(' ')} ended with ${status}:\n${stderr}`);
  return Number(process.hrtime.bigint() - started) / 1e6;
}

const median = (numbers) => numbers.toSorted((a, b) => a - b)[numbers.length >> 1];

/** Times both in turns, so that whatever else the machine does hits both alike. */
function compare(name, ours, peer, { times, cwd = folder, before = () => undefined }) {
  const [a, b] = [[], []];
  before();
  once(ours, cwd);
  once(peer.args, cwd);
  for (let i = 0; i < times; i += 1) {
    before();
    a.push(once(ours, cwd));
    b.push(once(peer.args, cwd));
  }
  line(name, median(a), peer.name, median(b));
}

function line(name, mine, peer, theirs) {
  console.log(
    `${name.padEnd(34)} ${mine.toFixed(0).padStart(7)} ms   ${peer.padEnd(30)} ${theirs.toFixed(0).padStart(7)} ms   ${(mine / theirs).toFixed(2)} times`,
  );
}

try {
  const made = generate(folder, entries);
  console.log(`node ${process.version}, ${made} entries, medians of ${rounds} rounds (3 for the large workspace)\n`);
  compare('lumbrik --version', [program, '--version'], { name: 'node -e 0', args: ['-e', '0'] }, { times: rounds });
  compare('lumbrik --help', [program, '--help'], { name: 'node -e 0', args: ['-e', '0'] }, { times: rounds });
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
  const misspelt = join(folder, 'misspelt');
  generate(misspelt, entries, { misspelt: true });
  compare(
    'the same, 2 of 3 references wrong',
    [program, 'check', '--workspace', misspelt],
    { name: 'all of them right', args: [program, 'check'] },
    3,
  );
  const checked = await compareCheckers(folder, 25);
  line('the checker alone, in one process', checked.ours, 'ajv, structure alone', checked.peer);

  const large = join(folder, 'large');
  const files = generateModel(large, 1000, 40);
  console.log(`\na model of ${files} files, 1,000 types with 40 fields each, medians of 5 rounds`);
  const yaml = { name: 'parsing the same YAML alone', args: [parser, large, 'model'] };
  compare('read, link, check the model', [program, 'check'], yaml, 5, large, () =>
    rmSync(join(large, '.lumbrik'), { recursive: true, force: true }),
  );
  compare('the same, unchanged since', [program, 'check'], yaml, 5, large);

  console.log('\nlook-alikes in an open taxonomy');
  const [few, many] = [2_000, 50_000].map((terms) => {
    const place = generateTerms(join(folder, `terms-${terms}`), terms);
    return median([0, 1, 2].map(() => once([program, 'terms', 'topic', '--alike'], place)));
  });
  console.log(
    `2,000 terms ${few.toFixed(0)} ms, 50,000 terms ${many.toFixed(0)} ms: ${(many / few).toFixed(1)} times for 25 times as many`,
  );
  const megabytes = Number(/(\d+)\s*$/u.exec(peak.stderr)?.[1]) / 1024;
  console.log(`\nlumbrik check, peak memory         ${megabytes.toFixed(0).padStart(7)} MB`);
} finally {
  rmSync(folder, { recursive: true, force: true });
}
