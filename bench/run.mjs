#!/usr/bin/env node
// Measures lumbrik beside a peer that does the unavoidable part of the same work, in one run, and prints the ratios.
// Usage: npm run bench [-- --entries 10000 --rounds 15]; of checks of any size: npm run bench:check [-- --lines 1000000]
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { compareCheckers } from './checker.mjs';
import { generate, generateJson } from './generate.mjs';
import { generateModel, generateTerms } from './generateModel.mjs';
import { compare, line, median, once, peakOf, peerFile, program } from './timing.mjs';

const { values } = parseArgs({
  options: { entries: { type: 'string', default: '10000' }, rounds: { type: 'string', default: '15' } },
});
const [entries, rounds] = [Number(values.entries), Number(values.rounds)];
const [parser, rewriter, deepEqual] = ['parseOnly', 'rewriteOnly', 'deepEqual'].map(peerFile);
const folder = join(tmpdir(), `lumbrik-bench-${process.pid}`);

/** Nothing is remembered of an earlier check. */
const anew = (cwd) => () => rmSync(join(cwd, '.lumbrik/memory'), { recursive: true, force: true });

/** Seals the model, and drafts the migration of a rename that a third of the entries go through. */
function prepareMigration(workspace) {
  const run = (...args) => once([program, ...args], workspace);
  run('seal', '-m', 'one');
  const file = join(workspace, 'model/types/keeper.yaml');
  writeFileSync(file, readFileSync(file, 'utf8').replace(/^ {2}served:/mu, '  onDuty:'));
  run('migration', 'draft', '--renamed', 'keeper.served=onDuty');
}

/** The same of five steps that each take every entry of some lines of departures. */
function prepareFiveSteps(workspace) {
  const run = (...args) => once([program, ...args], workspace);
  run('seal', '-m', 'one');
  const file = join(workspace, 'model/types/departure.yaml');
  const model = readFileSync(file, 'utf8')
    .replace('day:', 'date:')
    .replace('places:', 'seats:')
    .replace('notes:', 'remarks:');
  writeFileSync(
    file,
    `${model}  open: { kind: boolean, required: true }\n  title: { kind: text, required: true, max: 60 }\n`,
  );
  const renamed = ['departure.day=date', 'departure.places=seats', 'departure.notes=remarks'];
  run('migration', 'draft', ...renamed.flatMap((one) => ['--renamed', one]));
  run('migration', 'answer', '1', '--step', '4', '--cel', 'entry.seats > 10');
  run('migration', 'answer', '1', '--step', '5', '--cel', "entry.id + ' on ' + string(entry.date)");
}

try {
  const made = generate(folder, entries);
  console.log(`node ${process.version}, ${made} entries, medians of ${rounds} rounds (3 for the large workspace)\n`);
  compare(
    'lumbrik --version',
    [program, '--version'],
    { name: 'node -e 0', args: ['-e', '0'] },
    { times: rounds, cwd: folder },
  );
  compare(
    'lumbrik --help',
    [program, '--help'],
    { name: 'node -e 0', args: ['-e', '0'] },
    { times: rounds, cwd: folder },
  );
  const parsing = { name: 'reading and parsing alone', args: [parser, folder] };
  compare('lumbrik check (everything)', [program, 'check'], parsing, { times: 3, cwd: folder, before: anew(folder) });
  const peak = peakOf(['check'], folder);
  const misspelt = join(folder, 'misspelt');
  generate(misspelt, entries, { misspelt: true });
  compare(
    'the same, 2 of 3 references wrong',
    [program, 'check', '--workspace', misspelt],
    { name: 'all of them right', args: [program, 'check'] },
    {
      times: 3,
      cwd: folder,
      before: () => {
        anew(folder)();
        anew(misspelt)();
      },
    },
  );
  const checked = await compareCheckers(folder, 25);
  line('the checker alone, in one process', checked.ours, 'ajv, structure alone', checked.peer);
  prepareMigration(folder);
  compare(
    'migration rehearse',
    [program, 'migration', 'rehearse'],
    { name: 'lumbrik check', args: [program, 'check'] },
    { times: 3, cwd: folder, before: anew(folder) },
  );

  const running = [];
  const rewriting = [];
  for (let round = 0; round < 3; round += 1) {
    once([program, 'migration', 'rehearse'], folder);
    running.push(once([program, 'migration', 'run'], folder));
    once([program, 'migration', 'undo'], folder);
    const keepers = join(folder, 'content/keeper');
    rewriting.push(once([rewriter, keepers, 'served', 'onDuty'], folder));
    once([rewriter, keepers, 'onDuty', 'served'], folder);
  }
  line('migration run', median(running), 'rewriting the same files alone', median(rewriting));

  const json = join(folder, 'json');
  generateJson(json, entries);
  compare(
    'lumbrik check, all of them JSON',
    [program, 'check', '--workspace', json],
    { name: 'reading and JSON.parse alone', args: [parser, json] },
    { times: 3, cwd: folder, before: anew(json) },
  );
  const lines = join(folder, 'lines');
  generateJson(lines, 20 * entries, { inLines: true });
  compare(
    `${(20 * entries).toLocaleString('en')} lines of a file`,
    [program, 'check', '--workspace', lines],
    { name: 'reading and JSON.parse alone', args: [parser, lines] },
    { times: 3, cwd: folder, before: anew(lines) },
  );
  const peakOfLines = peakOf(['check'], lines);
  const [obeying, changing] = ['obeying', 'changing'].map((name) => join(folder, name));
  for (const one of [obeying, changing]) generateJson(one, 10 * entries, { inLines: true });
  prepareFiveSteps(changing);
  compare(
    `five steps over ${(10 * entries).toLocaleString('en')} lines`,
    [program, 'migration', 'rehearse', '--workspace', changing],
    { name: 'lumbrik check', args: [program, 'check', '--workspace', obeying] },
    { times: 3, cwd: folder, before: anew(obeying) },
  );

  const large = join(folder, 'large');
  const files = generateModel(large, 1000, 40);
  console.log(`\na model of ${files} files, 1,000 types with 40 fields each, medians of 5 rounds`);
  const yaml = { name: 'parsing the same YAML alone', args: [parser, large, 'model'] };
  const before = () => rmSync(join(large, '.lumbrik'), { recursive: true, force: true });
  compare('read, link, check the model', [program, 'check'], yaml, { times: 5, cwd: large, before });
  compare('the same, unchanged since', [program, 'check'], yaml, { times: 5, cwd: large });

  const seal = (message) => once([program, 'seal', '-m', message], large);
  seal('one');
  for (const name of readdirSync(join(large, 'model/types')).slice(0, 100)) {
    const file = join(large, 'model/types', name);
    writeFileSync(file, readFileSync(file, 'utf8').replace(/^ {2}field1: /mu, '  renamed1: '));
  }
  seal('two');
  const revisions = [1, 2].map((number) => join(large, `revisions/000${number}.json`));
  const equal = { name: 'JSON.parse and deep equality', args: [deepEqual, ...revisions] };
  compare('diff of two such models', [program, 'diff', '1', '2'], equal, { times: 5, cwd: large });

  console.log('\nlook-alikes in an open taxonomy');
  const [few, many] = [2_000, 50_000].map((terms) => {
    const place = generateTerms(join(folder, `terms-${terms}`), terms);
    return median([0, 1, 2].map(() => once([program, 'terms', 'topic', '--alike'], place)));
  });
  console.log(
    `2,000 terms ${few.toFixed(0)} ms, 50,000 terms ${many.toFixed(0)} ms: ${(many / few).toFixed(1)} times for 25 times as many`,
  );
  console.log(`\npeak memory: lumbrik check ${peak} MB, of the lines ${peakOfLines} MB`);
} finally {
  rmSync(folder, { recursive: true, force: true });
}
