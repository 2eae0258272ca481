// Makes a large model: the same for the same size, with a field of every common kind in each type.
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const kinds = [
  (n) => `{ kind: text, max: ${40 + n}, required: true, help: What authors call it in lists. }`,
  (n) => `{ kind: longText, max: ${200 + n}, group: Story }`,
  (n) => `{ kind: integer, min: ${n}, max: ${500 + n} }`,
  () => '{ kind: decimal, unit: m, min: 0, max: 150, places: 1 }',
  () => '{ kind: date, min: 1700-01-01 }',
  () => '{ kind: choice, choices: [easy, moderate, hard], required: published }',
  () => '{ kind: boolean, default: true }',
  (n, types, type) => `{ kind: reference, to: place${n % types}, many: { max: 8 }, inverse: nearPlace${type} }`,
  () => '{ kind: term, taxonomy: region }',
  () => '{ kind: duration, units: [hours, minutes], max: PT8H }',
];

/** Writes a workspace of so many types with so many fields each. @returns the number of files. */
export function generateModel(folder, types, fields) {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(join(folder, 'model/types'), { recursive: true });
  mkdirSync(join(folder, 'model/taxonomies'), { recursive: true });
  mkdirSync(join(folder, 'content'), { recursive: true });
  writeFileSync(join(folder, 'lumbrik.yaml'), 'workspace: Gannet Sound\nlanguages: [en, fr]\n');
  writeFileSync(join(folder, 'model/taxonomies/region.yaml'), 'taxonomy: region\nterms: [north, south, islands]\n');
  for (let type = 0; type < types; type += 1) {
    const lines = Array.from(
      { length: fields },
      (_, n) => `  field${n}: ${kinds[n % kinds.length](type + n, types, type)}\n`,
    );
    const rule = 'rules:\n  - { expect: entry.field2 > 0, say: There has to be one at least., at: field2 }\n';
    writeFileSync(
      join(folder, `model/types/place${type}.yaml`),
      `# A place of the trust.\ntype: place${type}\nabout: A place that the trust looks after.\ntitled: field0\ngroups: [Story]\nfields:\n${lines.join('')}${rule}`,
    );
  }
  return types + 1;
}

/** Writes a workspace whose types point as those of real models do: at a few that many point at, and at neighbours. */
export function generateHubs(folder, types) {
  generateModel(folder, 1, 1);
  for (let type = 0; type < types; type += 1) {
    const fields = Array.from({ length: 18 }, (_, n) => `  field${n}: { kind: text }\n`);
    const hub = `  hub: { kind: reference, to: place${(type * 13) % 15} }\n`;
    const near = `  near: { kind: reference, to: place${type - (type % 10)}, many: true }\n`;
    const region = type % 4 === 0 ? '  region: { kind: term, taxonomy: region }\n' : '';
    writeFileSync(
      join(folder, `model/types/place${type}.yaml`),
      `type: place${type}\nfields:\n${fields.join('')}${hub}${near}${region}`,
    );
  }
}

const words = 'gannet skerry lamp stair tide rock keeper harbour winter boat lens storm bridge island flag bread'.split(
  ' ',
);

/** Writes a workspace with an open taxonomy of so many terms, some of them misspelt. @returns its folder. */
export function generateTerms(folder, count) {
  mkdirSync(join(folder, 'model/taxonomies'), { recursive: true });
  mkdirSync(join(folder, 'content'), { recursive: true });
  writeFileSync(join(folder, 'lumbrik.yaml'), 'workspace: Gannet Sound\nlanguages: [en]\n');
  writeFileSync(join(folder, 'model/taxonomies/topic.yaml'), 'taxonomy: topic\nopen: true\n');
  const term = (n) => {
    const text = `${words[n % 16]}-${words[(n >> 4) % 16]}-${words[(n >> 8) % 16]}-${words[(n >> 12) % 16]}`;
    if (n % 7 === 0) return `${text}s`;
    return n % 11 === 0 ? text.replace('t', '') : text;
  };
  const terms = new Set(Array.from({ length: count }, (_, n) => term(n)));
  writeFileSync(
    join(folder, 'content/topic.terms.yaml'),
    `taxonomy: topic\nterms:\n${[...terms].map((one) => `  - ${one}\n`).join('')}`,
  );
  return folder;
}
