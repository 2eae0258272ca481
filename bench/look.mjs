#!/usr/bin/env node
// Measures the commands that look (list, profile, advice, map, report) beside a check of the same entries, and the map
// beside its layout library alone, in one run, and prints the ratios.
// Usage: npm run bench:look [-- --lines 100000 --types 200 --rounds 5]
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { generateJson } from './generate.mjs';
import { generateHubs, generateModel } from './generateModel.mjs';
import { compare, line, median, once, outputOf, peerFile, program } from './timing.mjs';

const { values } = parseArgs({
  options: {
    lines: { type: 'string', default: '100000' },
    types: { type: 'string', default: '200' },
    rounds: { type: 'string', default: '5' },
  },
});
const [lines, types, times] = [Number(values.lines), Number(values.types), Number(values.rounds)];
const folder = join(tmpdir(), `lumbrik-bench-look-${process.pid}`);

/** Entries in lines of a file: what looks at all of them, beside a check that remembers nothing. */
function ofLines() {
  const cwd = join(folder, 'lines');
  generateJson(cwd, lines, { inLines: true });
  once([program, 'schemas'], cwd);
  const before = () => rmSync(join(cwd, '.lumbrik'), { recursive: true, force: true });
  const check = { name: 'lumbrik check', args: [program, 'check'] };
  const settings = { times, cwd, before };
  for (const [name, ...args] of [
    ['profile', 'profile'],
    ['list', 'list', 'departure'],
    ['list, sorted', 'list', 'departure', '--sort', 'places desc'],
    ['list, where', 'list', 'departure', '--where', 'entry.places > 50'],
    ['list as CSV', 'list', 'departure', '--format', 'csv'],
    ['entries out, NDJSON', 'export', 'entries', 'departure', '--as', 'ndjson'],
    ['entries out, CSV', 'export', 'entries', 'departure', '--as', 'csv'],
    ['entries out, SQL', 'export', 'entries', 'departure', '--as', 'sql'],
    ['advice', 'advice'],
    ['report', 'report', '--format', 'html'],
  ])
    compare(`${name}, ${lines.toLocaleString('en')} lines`, [program, ...args], check, settings);
}

/** A map of many types, beside the library that lays it out. */
function ofMap() {
  const json = join(folder, 'map.json');
  const peer = { name: 'dagre alone', args: [peerFile('layoutOnly'), json] };
  const draw = [program, 'map', '--format', 'svg'];
  const hubs = join(folder, 'hubs');
  generateHubs(hubs, types);
  writeFileSync(json, outputOf([program, 'map', '--format', 'json'], hubs));
  compare(`map of ${types} types`, draw, peer, { times, cwd: hubs });
  // Where arrows would cross very many layers, the longest are not laid out.
  const chain = join(folder, 'chain');
  generateModel(chain, types, 20);
  writeFileSync(json, outputOf([program, 'map', '--format', 'json'], chain));
  compare(`the same in one long chain`, draw, peer, { times: 1, cwd: chain, warmUp: false });
  // The page of a large model leaves the picture out.
  const large = join(folder, 'large');
  generateModel(large, 1000, 40);
  const made = [1, 2, 3].map(() => once([program, 'report', '--format', 'html'], large));
  const shown = [1, 2, 3].map(() => once([program, 'show'], large));
  line('report of 1,000 types x 40 fields', median(made), 'lumbrik show', median(shown));
}

try {
  mkdirSync(folder, { recursive: true });
  console.log(`node ${process.version}, medians of ${times} rounds\n`);
  ofLines();
  ofMap();
} finally {
  rmSync(folder, { recursive: true, force: true });
}
