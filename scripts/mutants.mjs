#!/usr/bin/env node
// Changes the code in one small way at a time, builds it, and runs the tests: a change that no test notices is a gap.
// A seeded sample of all sources, or of those that are named:
//
//   npm run mutants -- --count 20 --seed 7 src/core/diff
//
// Tests of the same shelf run first, then all fast ones; with --whole all of them. Exit code 1 where fewer of the changes are
// noticed than 95 % (--least). Changes that do not alter behaviour are among those that survive: they are listed to be read.
// With --tested the tests are known to pass as the code is, and are not run on it first.
import { execFileSync, spawnSync } from 'node:child_process';
import { chmodSync, cpSync, existsSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { parseAst } from 'rolldown/parseAst';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    count: { type: 'string', default: '20' },
    seed: { type: 'string', default: '1' },
    whole: { type: 'boolean', default: false },
    tested: { type: 'boolean', default: false },
    least: { type: 'string', default: '95' },
  },
});

/* ── small changes ───────────────────────────────────────────────────────────────────────────────────────────── */

const operators = {
  '===': '!==',
  '!==': '===',
  '<': '<=',
  '<=': '<',
  '>': '>=',
  '>=': '>',
  '+': '-',
  '-': '+',
  '*': '/',
  '&&': '||',
  '||': '&&',
};
const methods = { some: 'every', every: 'some', min: 'max', max: 'min', startsWith: 'endsWith', find: 'findLast' };

/** The changes that can be made to one node of a syntax tree: where, and what stands there then. */
function changesOf(node, text) {
  const whole = (start, end, by) => [{ start, end, by }];
  const source = (part) => text.slice(part.start, part.end);
  switch (node.type) {
    case 'BinaryExpression':
    case 'LogicalExpression': {
      const by = operators[node.operator];
      const between = text.slice(node.left.end, node.right.start);
      const isText = [node.left, node.right].some(({ type }) => type === 'TemplateLiteral');
      if (by === undefined || isText || !between.includes(node.operator)) return [];
      const start = node.left.end + between.indexOf(node.operator);
      return whole(start, start + node.operator.length, by);
    }
    case 'UnaryExpression':
      return node.operator === '!' ? whole(node.start, node.end, source(node.argument)) : [];
    case 'ConditionalExpression':
      return whole(node.consequent.start, node.alternate.end, `${source(node.alternate)} : ${source(node.consequent)}`);
    case 'IfStatement':
      return whole(node.test.start, node.test.end, 'false');
    case 'Literal':
      if (typeof node.value === 'boolean') return whole(node.start, node.end, String(!node.value));
      return typeof node.value === 'number' ? whole(node.start, node.end, String(node.value + 1)) : [];
    case 'MemberExpression': {
      const by = node.computed ? undefined : methods[node.property.name];
      return by === undefined ? [] : whole(node.property.start, node.property.end, by);
    }
    default:
      return [];
  }
}

/** Types say nothing while the program runs. */
const isType = ({ type }) => type.startsWith('TS') && !['TSAsExpression', 'TSNonNullExpression'].includes(type);

/** Every change that can be made to a source. */
function changesIn(file) {
  const text = readFileSync(file, 'utf8');
  const lang = file.endsWith('x') ? 'tsx' : 'ts';
  const found = [];
  const walk = (node) => {
    if (Array.isArray(node)) {
      for (const one of node) walk(one);
      return;
    }
    if (typeof node !== 'object' || node === null || typeof node.type !== 'string' || isType(node)) return;
    found.push(...changesOf(node, text));
    for (const part of Object.values(node)) if (typeof part === 'object') walk(part);
  };
  walk(parseAst(text, { lang }).body);
  return found.map((change) => ({ file, line: text.slice(0, change.start).split('\n').length, ...change }));
}

/* ── a sample ────────────────────────────────────────────────────────────────────────────────────────────────── */

/** Numbers from 0 to 1 that are the same for the same seed (mulberry32). */
function randomFrom(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** The shelf that a source belongs to: `src/core/diff`, `src/stores`. */
const shelfOf = (file) =>
  file
    .split('/')
    .slice(0, file.startsWith('src/core/') ? 3 : 2)
    .join('/');

/** As many changes of each shelf as of any other, as far as there are so many. */
function sampleOf(files, count, seed) {
  const random = randomFrom(seed);
  const queues = [...groupBy(files, shelfOf).values()].map((some) =>
    some
      .flatMap(changesIn)
      .map((change) => ({ change, at: random() }))
      .sort((a, b) => a.at - b.at)
      .map(({ change }) => change),
  );
  inRandomOrder(queues, random);
  const sample = [];
  while (sample.length < count && queues.some(({ length }) => length > 0))
    for (const queue of queues) {
      const change = queue.shift();
      if (change && sample.length < count) sample.push(change);
    }
  return sample;
}

/** Where there are fewer changes than shelves, each shelf is as likely as any other. */
function inRandomOrder(queues, random) {
  const order = new Map(queues.map((queue) => [queue, random()]));
  queues.sort((a, b) => order.get(a) - order.get(b));
}

function groupBy(items, keyOf) {
  const groups = new Map();
  for (const item of items) groups.set(keyOf(item), [...(groups.get(keyOf(item)) ?? []), item]);
  return groups;
}

/* ── whether tests notice ────────────────────────────────────────────────────────────────────────────────────── */

/** The tests that look at a shelf more closely than others do, by words in their names. */
const closest = {
  'src/cli.ts': ['anywhere', 'compileCache', 'call'],
  'src/commands': ['prompts', 'call', 'completion'],
  'src/compileCache.ts': ['compileCache'],
  'src/core/advice': ['advice'],
  'src/core/cel': ['rename', 'moves', 'rules'],
  'src/core/check': ['check', 'unlooked', 'bounds', 'references', 'conditional'],
  'src/core/diff': ['diff', 'recognition', 'meant', 'announced', 'makingSteps', 'moves'],
  'src/core/export': ['export', 'comeBack', 'tables', 'postgres', 'migrationSql'],
  'src/core/graph': ['trace', 'references'],
  'src/core/kinds': ['kinds', 'conversions', 'messages', 'text'],
  'src/core/learn': ['learn'],
  'src/core/listing': ['list'],
  'src/core/map': ['map'],
  'src/core/messages': ['messages', 'words', 'kinds'],
  'src/core/migration': ['migration', 'algebra', 'makingSteps', 'answer', 'fix', 'meant'],
  'src/core/model': ['model', 'types', 'rename', 'names', 'subtypes', 'kits'],
  'src/core/patterns': ['patterns'],
  'src/core/profile': ['profile'],
  'src/core/rules': ['rules', 'functions', 'lookUp', 'budget', 'unlooked'],
  'src/core/skos': ['skos'],
  'src/core/taxonomy': ['taxonomies', 'wordsForTerms'],
  'src/core/text': ['text', 'links'],
  'src/core/writing': ['writing'],
  'src/journal': ['journal', 'crash', 'saves', 'stops'],
  'src/passes': ['threads', 'check', 'migration', 'walking'],
  'src/rdf': ['skos'],
  'src/stores': ['store', 'lines', 'tables', 'kept', 'edit', 'rewriting'],
  'src/tasks': ['call', 'list', 'answer', 'undo', 'checkPart', 'text'],
  'src/view': ['look', 'page', 'report', 'map', 'output'],
  'src/workspace': ['revisions', 'lock', 'outside', 'housekeeping'],
};

const tree = mkdtempSync(join(tmpdir(), 'mutants-'));
// Some tests run the program as somebody else, who has to be able to read it.
chmodSync(tree, 0o755);
process.on('exit', () => rmSync(tree, { recursive: true, force: true }));
const root = resolve('.');
for (const file of execFileSync('git', ['ls-files'], { encoding: 'utf8' }).trim().split('\n'))
  if (existsSync(file)) cpSync(file, join(tree, file));
symlinkSync(join(root, 'node_modules'), join(tree, 'node_modules'));

/** Runs a program in the copy. @returns whether it ended well, and in time. */
function runs(...args) {
  const { status } = spawnSync(process.execPath, args, { cwd: tree, stdio: 'ignore', timeout: 900_000 });
  return status === 0;
}

const vitest = (...args) =>
  runs('node_modules/vitest/vitest.mjs', 'run', '--bail', '1', `--maxWorkers=${availableParallelism() + 2}`, ...args);

const testsNear = (shelves) => [...new Set(shelves.flatMap((shelf) => closest[shelf] ?? []))];

/** Whether the tests notice what a build of the copy does: those near some shelves first. */
function isNoticed(shelves) {
  if (!runs('scripts/build.mjs')) return true;
  const near = testsNear(shelves);
  if (near.length > 0 && !vitest(...near.map((name) => `test/${name}`))) return true;
  return !vitest(...(values.whole ? [] : ['--project', 'fast']));
}

const inGit = execFileSync('git', ['ls-files', 'src'], { encoding: 'utf8' }).trim().split('\n');
const wanted = positionals.length > 0 ? positionals : ['src'];
const sources = inGit.filter(
  (file) => /\.tsx?$/u.test(file) && !file.endsWith('.d.ts') && wanted.some((place) => file.startsWith(place)),
);
const sample = sampleOf(sources, Number(values.count), Number(values.seed));
// Tests that fail without any change would seem to notice all of them.
const shelves = [...new Set(sample.map(({ file }) => shelfOf(file)))];
// A machine that does other things as well may let a test time out once.
if (!values.tested && isNoticed(shelves) && isNoticed(shelves)) {
  console.error('The tests fail as the code is: mend them first.');
  process.exit(2);
}
const results = [];
for (const change of sample) {
  const { file, start, end, by, line } = change;
  const text = readFileSync(file, 'utf8');
  writeFileSync(join(tree, file), text.slice(0, start) + by + text.slice(end));
  const noticed = isNoticed([shelfOf(file)]);
  writeFileSync(join(tree, file), text);
  results.push({ ...change, noticed });
  const says = `${file}:${line}  ${text.slice(start, end).replace(/\s+/gu, ' ').slice(0, 60)} → ${by.replace(/\s+/gu, ' ').slice(0, 60)}`;
  console.log(`${noticed ? 'noticed ' : 'SURVIVES'}  ${says}`);
}

const survivors = results.filter(({ noticed }) => !noticed);
console.log(`\n${results.length - survivors.length} of ${results.length} changes were noticed`);
for (const [shelf, some] of groupBy(results, ({ file }) => shelfOf(file)))
  console.log(`  ${shelf.padEnd(24)} ${some.filter(({ noticed }) => noticed).length} of ${some.length}`);
if (results.length - survivors.length < (Number(values.least) / 100) * results.length) process.exitCode = 1;
