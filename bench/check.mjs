#!/usr/bin/env node
// Measures checks of any size, and learning, beside peers that do a part of the same work, in one run, and prints the ratios.
// Usage: npm run bench:check [-- --lines 1000000 --files 20000 --rounds 5]
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { parseArgs } from 'node:util';
import { generate, generateJson } from './generate.mjs';
import { compare, line, median, once, peakOf, peerFile, program } from './timing.mjs';

const { values } = parseArgs({
  options: {
    lines: { type: 'string', default: '1000000' },
    files: { type: 'string', default: '20000' },
    rounds: { type: 'string', default: '5' },
  },
});
const [lines, files, times] = [Number(values.lines), Number(values.files), Number(values.rounds)];
const folder = join(tmpdir(), `lumbrik-bench-check-${process.pid}`);
const check = [program, 'check'];
/** Nothing is remembered of an earlier check. */
const anew = (cwd) => () => rmSync(join(cwd, '.lumbrik'), { recursive: true, force: true });
const number = (count) => count.toLocaleString('en');

/** Lines of a file, checked with all that they say of each other. */
function ofLines() {
  const cwd = join(folder, 'lines');
  generateJson(cwd, lines, { inLines: true });
  once([program, 'schemas'], cwd);
  const settings = { times, cwd, before: anew(cwd) };
  const parsing = { name: 'JSON.parse, one thread', args: [peerFile('parseOnly'), cwd] };
  const [whole] = compare(`${number(lines)} lines, everything`, check, parsing, settings);
  const ajv = {
    name: 'JSON.parse and ajv, structure',
    args: [peerFile('ajvOnly'), cwd, 'departure', 'content/departures.ndjson'],
  };
  compare('the same', check, ajv, settings);
  compare('how their fields are used', [program, 'profile'], { name: 'lumbrik check', args: check }, settings);
  anew(cwd)();
  console.log(`peak memory ${peakOf(['check'], cwd)} MB\n`);
  once(check, cwd);
  const text = readFileSync(join(cwd, 'content/departures.ndjson'), 'utf8').split('\n');
  let round = 0;
  const edit = () => {
    text[(lines >> 1) + round] = text[(lines >> 1) + round].replace(/"places":\d+/u, `"places":${10 + round}`);
    round += 1;
    writeFileSync(join(cwd, 'content/departures.ndjson'), text.join('\n'));
  };
  compareToCold('the same, one line changed', cwd, edit, whole);

  const tenth = join(folder, 'tenth');
  generateJson(tenth, lines / 10, { inLines: true });
  const fewTimes = Array.from({ length: times }, () => {
    anew(tenth)();
    return once(check, tenth);
  });
  const few = median(fewTimes);
  console.log(
    `${number(lines / 10)} lines ${few.toFixed(0)} ms, ten times as many ${whole.toFixed(0)} ms: ${(whole / few / 10).toFixed(2)} times linear\n`,
  );
}

/** A model learnt from the same lines, in a folder that is none yet. */
function ofLearning() {
  const cwd = join(folder, 'learning');
  generateJson(cwd, lines, { inLines: true });
  const forget = () => {
    for (const made of ['lumbrik.yaml', 'model', 'content/notes.terms.yaml', '.lumbrik'])
      rmSync(join(cwd, made), { recursive: true, force: true });
  };
  const parsing = { name: 'JSON.parse, one thread', args: [peerFile('parseOnly'), cwd] };
  compare(`a model of ${number(lines)} lines`, [program, 'learn'], parsing, { times, cwd, before: forget });
  forget();
  console.log(`peak memory ${peakOf(['learn'], cwd)} MB\n`);
}

function compareToCold(name, cwd, change, cold) {
  const taken = [];
  for (let round = 0; round < times; round += 1) {
    change();
    taken.push(once(check, cwd));
  }
  line(name, median(taken), 'its own cold run', cold);
}

/** Files of Markdown, YAML and JSON. */
async function ofFiles() {
  const cwd = join(folder, 'files');
  generate(cwd, files);
  const parsing = { name: 'reading and parsing alone', args: [peerFile('parseOnly'), cwd] };
  const [cold] = compare(`${number(files)} files, cold`, check, parsing, { times, cwd, before: anew(cwd) });
  // Files that were just written are read again.
  await setTimeout(2500);
  once(check, cwd);
  const one = join(cwd, 'content/keeper/keeper-7.yaml');
  let year = 1900;
  const edit = () => {
    year += 1;
    writeFileSync(one, readFileSync(one, 'utf8').replace(/served: \d+/u, `served: ${year}`));
  };
  compareToCold('the same, one entry changed', cwd, edit, cold);
}

/** Findings, many in one file. */
function ofFindings() {
  const cwd = join(folder, 'findings');
  generateJson(cwd, 40_000, { inLines: true });
  const file = join(cwd, 'content/departures.ndjson');
  writeFileSync(file, readFileSync(file, 'utf8').replaceAll(/"places":\d+/gu, '"places":99'));
  const json = { name: 'as JSON', args: [...check, '--format', 'json'] };
  compare('\n40,000 findings, as text', [...check, '--limit', '0'], json, { times, cwd });
}

/** A model that is remembered between calls, with findings that name places in its files. */
function ofRememberedModel() {
  const cwd = join(folder, 'remembered');
  const fields = Array.from(
    { length: 60 },
    (_, at) => `  f${at}: { kind: text, max: 40, help: "What field ${at} is for" }`,
  );
  mkdirSync(join(cwd, 'model/types'), { recursive: true });
  mkdirSync(join(cwd, 'content/t0'), { recursive: true });
  writeFileSync(join(cwd, 'lumbrik.yaml'), 'workspace: W\n');
  for (let type = 0; type < 40; type += 1)
    writeFileSync(join(cwd, `model/types/t${type}.yaml`), `type: t${type}\nfields:\n${fields.join('\n')}\n`);
  for (let entry = 0; entry < 60; entry += 1)
    writeFileSync(join(cwd, `content/t0/e${entry}.yaml`), `f0: ${'x'.repeat(60)}\n`);
  const cold = Array.from({ length: times }, () => {
    anew(cwd)();
    return once(check, cwd);
  });
  compareToCold('60 findings, model remembered', cwd, () => undefined, median(cold));
}

try {
  mkdirSync(folder, { recursive: true });
  console.log(`node ${process.version}, medians of ${times} rounds\n`);
  ofLines();
  ofLearning();
  await ofFiles();
  ofFindings();
  ofRememberedModel();
  const demo = join(folder, 'demo');
  once([program, 'new', demo, '--starter', 'lighthouses'], folder);
  const bare = { name: 'node -e 0', args: ['-e', '0'] };
  compare('lumbrik --version', [program, '--version'], bare, { times: 3 * times, cwd: demo });
  compare('check of the demo', check, bare, { times: 3 * times, cwd: demo });
} finally {
  rmSync(folder, { recursive: true, force: true });
}
