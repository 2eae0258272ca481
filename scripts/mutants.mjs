#!/usr/bin/env node
// Changes the code in one small way at a time and runs the tests that come by there: a change that no test notices is a gap.
// A seeded sample of all sources, or of those that are named:
//
//   npm run mutants -- --count 20 --seed 7 src/core/diff
//
// One build holds all changes of the sample, each behind its number. The fast tests run once with none of them on, which
// tells which files of tests come by each change; then once for each change, those files only. With --whole the slow tests do
// the same for what the fast ones leave; --only 3,17 runs some numbers of a sample again. Exit code 1 where fewer of the
// changes are noticed than 95 % (--least). Changes that do
// not alter behaviour are among those that survive: they are listed to be read. A change that no test comes by survives. What runs
// in a browser is left out: it has no file to read its number from.
import { execFileSync, spawnSync } from 'node:child_process';
import {
  chmodSync,
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { dirname, join, relative, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { parseAst } from 'rolldown/parseAst';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    count: { type: 'string', default: '20' },
    seed: { type: 'string', default: '1' },
    whole: { type: 'boolean', default: false },
    only: { type: 'string' },
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
const methods = new Map(
  Object.entries({ some: 'every', every: 'some', min: 'max', max: 'min', startsWith: 'endsWith', find: 'findLast' }),
);

/** The changes that can be made to one node of a syntax tree: where, what stands there then, and the part that they change. */
function changesOf(node, text) {
  const source = (part) => text.slice(part.start, part.end);
  const whole = (part, by) => [{ start: part.start, end: part.end, by, was: source(part) }];
  switch (node.type) {
    case 'BinaryExpression':
    case 'LogicalExpression': {
      const by = operators[node.operator];
      const between = text.slice(node.left.end, node.right.start);
      const isText = [node.left, node.right].some(({ type }) => type === 'TemplateLiteral');
      if (by === undefined || isText || !between.includes(node.operator)) return [];
      // Brackets around either side stand between them and what is the whole.
      const [before, after] = [text.slice(node.start, node.left.end), text.slice(node.right.start, node.end)];
      return whole(node, before + between.replace(node.operator, by) + after);
    }
    case 'UnaryExpression':
      return node.operator === '!' ? whole(node, source(node.argument)) : [];
    case 'ConditionalExpression': {
      const [asked, yes, no] = [node.test, node.alternate, node.consequent].map(source);
      return whole(node, `(${asked}) ? (${yes}) : (${no})`);
    }
    case 'IfStatement':
      return whole(node.test, 'false');
    case 'Literal':
      if (typeof node.value === 'boolean') return whole(node, String(!node.value));
      return typeof node.value === 'number' ? whole(node, String(node.value + 1)) : [];
    case 'MemberExpression': {
      const by = node.computed ? undefined : methods.get(node.property.name);
      const [from, to] = [text.lastIndexOf('.', node.property.start), node.end];
      const dot = text[from - 1] === '?' ? '.' : '';
      return by === undefined
        ? []
        : [{ start: from, end: to, was: `'${node.property.name}'`, by: `'${by}'`, around: [`${dot}[`, ']'] }];
    }
    default:
      return [];
  }
}

/** Types say nothing while the program runs. */
const isType = ({ type }) => type.startsWith('TS') && !['TSAsExpression', 'TSNonNullExpression'].includes(type);

/** What is no value of its own: the name of a property. */
const isName = (node, part) => part === 'key' && !node.computed;

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
    for (const [part, value] of Object.entries(node)) if (typeof value === 'object' && !isName(node, part)) walk(value);
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

/** Whether two changes change the same part: one build cannot hold both. */
const overlap = (one, other) => one.file === other.file && one.start < other.end && other.start < one.end;

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
      if (change && sample.length < count && !sample.some((one) => overlap(one, change))) sample.push(change);
    }
  return sample.map((change, index) => ({ ...change, number: index + 1 }));
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

/* ── a build that holds them all ─────────────────────────────────────────────────────────────────────────────── */

const tree = mkdtempSync(join(tmpdir(), 'mutants-'));
// Some tests run the program as somebody else, who has to be able to read it.
chmodSync(tree, 0o755);
process.on('exit', () => rmSync(tree, { recursive: true, force: true }));
const root = resolve('.');
for (const file of execFileSync('git', ['ls-files'], { encoding: 'utf8' }).trim().split('\n'))
  if (existsSync(file)) cpSync(file, join(tree, file));
symlinkSync(join(root, 'node_modules'), join(tree, 'node_modules'));
const [which, passed, children] = ['which', 'passed', 'children'].map((name) => join(tree, name));
for (const folder of [passed, children]) mkdirSync(folder);
chmodSync(children, 0o777);

/**
 * The module that says which change is on, and keeps which ones the code came by: for the file of tests that runs, or, where it
 * runs in a process of its own, in a file for the one that started it.
 */
const switchboard = 'src/mutant.ts';
writeFileSync(
  join(tree, switchboard),
  `import { appendFileSync, readFileSync } from 'node:fs';
import { threadId } from 'node:worker_threads';
const on = Number(readFileSync(${JSON.stringify(which)}, 'utf8'));
const tested = (globalThis as { passed?: Set<number> }).passed;
const seen = tested ?? new Set<number>();
const file = [process.ppid, process.pid, threadId].join('-');
export function mutant(number: number): boolean {
  // At once: what runs last in a process is seen as well.
  if (!seen.has(number) && !tested) appendFileSync(${JSON.stringify(`${children}/`)} + file, number + ' ');
  seen.add(number);
  return number === on;
}
`,
);

/** Keeps which changes a file of tests came by, as soon as it has run. */
writeFileSync(
  join(tree, 'test/support/seed.ts'),
  `${readFileSync('test/support/seed.ts', 'utf8')}
import fs from 'node:fs';
import { beforeEach as noteFile, expect as running } from 'vitest';
const seen: Set<number> = ((globalThis as { passed?: Set<number> }).passed ??= new Set());
let file = '';
noteFile(() => { file = running.getState().testPath ?? ''; });
afterAll(() => {
  const mine = fs.readdirSync(${JSON.stringify(children)}).filter((name) => name.startsWith(process.pid + '-'));
  const theirs = mine.flatMap((name) => fs.readFileSync(path.join(${JSON.stringify(children)}, name), 'utf8').split(' '));
  if (file !== '') fs.writeFileSync(path.join(${JSON.stringify(passed)}, path.basename(file)), [...seen, ...theirs].join(' '));
  for (const name of mine) fs.rmSync(path.join(${JSON.stringify(children)}, name), { force: true });
  seen.clear();
});
`,
);

/** A source with all of its changes, each behind its number. */
function withChanges(file, changes) {
  const choice = ({ number, was, by, around: [before, after] = ['(', ')'] }) =>
    `${before}mutant(${number}) ? (${by}) : (${was})${after}`;
  const text = [...changes]
    .sort((a, b) => b.start - a.start)
    .reduce((all, one) => all.slice(0, one.start) + choice(one) + all.slice(one.end), readFileSync(file, 'utf8'));
  const way = relative(dirname(file), switchboard);
  return `${text}\nimport { mutant } from '${way.startsWith('.') ? way : `./${way}`}';\n`;
}

/* ── whether tests notice ────────────────────────────────────────────────────────────────────────────────────── */

/** Runs a program in the copy. @returns whether it ended well, and in time. */
function runs(...args) {
  const { status } = spawnSync(process.execPath, args, { cwd: tree, stdio: 'ignore', timeout: 900_000 });
  return status === 0;
}

/** Runs some files of tests, or all of a project. @returns whether they passed. */
const pass = (project, files = []) =>
  runs(
    'node_modules/vitest/vitest.mjs',
    'run',
    ...['--bail', '1', `--maxWorkers=${availableParallelism() + 2}`, '--passWithNoTests', '--project', project],
    ...files.map((name) => `/${name}`),
  );

const turnOn = (number) => writeFileSync(which, String(number));

/** The files of tests that come by each change. */
function filesByChange() {
  const files = new Map();
  for (const name of readdirSync(passed))
    for (const number of new Set(readFileSync(join(passed, name), 'utf8').split(' ').filter(Boolean).map(Number)))
      files.set(number, [...(files.get(number) ?? []), name]);
  return files;
}

/** What a change changes, with a little of what stands around it. */
function inShort(was, by) {
  const alike = (some) => {
    const differs = [...was].findIndex((letter, at) => some(letter, at));
    return differs === -1 ? was.length : differs;
  };
  const before = Math.max(0, alike((letter, at) => letter !== by[at]) - 30);
  const oneLine = (text) => text.slice(before).replace(/\s+/gu, ' ').slice(0, 60);
  return `${oneLine(was)} → ${oneLine(by)}`;
}

/** Whether the tests that come by a change notice it. */
function isNoticed(number, files) {
  turnOn(number);
  return files.length > 0 && projects.some((project) => !pass(project, files));
}

const inGit = execFileSync('git', ['ls-files', 'src'], { encoding: 'utf8' }).trim().split('\n');
const wanted = positionals.length > 0 ? positionals : ['src'];
const sources = inGit.filter(
  (file) =>
    /(?<!\.d)\.tsx?$/u.test(file) && !file.includes('/browser/') && wanted.some((place) => file.startsWith(place)),
);
const sample = sampleOf(sources, Number(values.count), Number(values.seed));
for (const [file, changes] of groupBy(sample, ({ file }) => file))
  writeFileSync(join(tree, file), withChanges(file, changes));
turnOn(0);
const projects = ['fast', ...(values.whole ? ['slow'] : [])];
// Tests that fail without any change would seem to notice all of them. A machine that does other things as well may let a test
// time out once.
if (!runs('scripts/build.mjs') || !projects.every((project) => pass(project) || pass(project))) {
  console.error('The tests fail as the code is: mend them first.');
  process.exit(2);
}
const files = filesByChange();
const results = [];
const again = values.only?.split(',').map(Number);
for (const change of sample.filter(({ number }) => again?.includes(number) ?? true)) {
  const { file, number, was, by, line } = change;
  const near = files.get(number) ?? [];
  const noticed = isNoticed(number, near);
  results.push({ ...change, noticed });
  console.log(
    `${String(number).padStart(4)}  ${noticed ? 'noticed ' : 'SURVIVES'}  ${file}:${line}  ${inShort(was, by)}  (${near.length} files of tests)`,
  );
}

const survivors = results.filter(({ noticed }) => !noticed);
console.log(`\n${results.length - survivors.length} of ${results.length} changes were noticed`);
for (const [shelf, some] of groupBy(results, ({ file }) => shelfOf(file)))
  console.log(`  ${shelf.padEnd(24)} ${some.filter(({ noticed }) => noticed).length} of ${some.length}`);
if (results.length - survivors.length < (Number(values.least) / 100) * results.length) process.exitCode = 1;
