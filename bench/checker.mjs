// The compiled checker beside a compiled JSON Schema validator (ajv, all errors) that does the structural part of the
// same checks: both in this process, on one core, on entries that are parsed already.
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { build } from 'rolldown';
import { entryFiles, readEntry } from './generate.mjs';

const here = (name) => fileURLToPath(new URL(name, import.meta.url));
const median = (numbers) => numbers.toSorted((a, b) => a - b)[numbers.length >> 1];

/** Milliseconds that each needs for all entries of a workspace: medians of some rounds, taken in turns. */
export async function compareCheckers(folder, rounds) {
  const bundle = join(folder, 'core.mjs');
  await build({ input: here('./core.ts'), platform: 'node', logLevel: 'silent', output: { file: bundle } });
  const core = await import(bundle);
  const parsed = (text) => core.readYaml(text, core.usualLimits).value;
  const modelFiles = readdirSync(join(folder, 'model'), { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.yaml'))
    .map((file) => ({ file, source: parsed(readFileSync(join(folder, 'model', file), 'utf8')) }));
  const { model: definition } = core.readModel(modelFiles, { languages: ['en', 'fr'], factKeys: core.usualFactKeys });
  const model = core.link(definition);
  const entries = entryFiles(folder).map((file) => {
    const text = readEntry(file);
    const [type, name] = file.split('/').slice(-2);
    const yaml = file.endsWith('.md') ? (text.split(/^---$/mu)[1] ?? '') : text;
    return { type, id: name.replace(/\.\w+$/u, ''), values: parsed(yaml).data };
  });
  const ajv = new Ajv2020({ allErrors: true, strict: false, validateFormats: false });
  const validators = new Map(
    [...model.types.values()].map((type) => [type.name, ajv.compile(core.entrySchema(type, model))]),
  );
  const checker = core.compile(model);
  const ours = () => entries.reduce((sum, entry) => sum + checker.check(entry).findings.length, 0);
  const peers = () => entries.reduce((sum, { type, values }) => sum + (validators.get(type)(values) ? 0 : 1), 0);
  const found = [ours(), peers()];
  const times = [[], []];
  for (let round = 0; round < rounds; round += 1)
    for (const [index, work] of [ours, peers].entries()) {
      const started = process.hrtime.bigint();
      work();
      times[index].push(Number(process.hrtime.bigint() - started) / 1e6);
    }
  return { ours: median(times[0]), peer: median(times[1]), entries: entries.length, found };
}
