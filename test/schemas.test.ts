import fs from 'node:fs';
import path from 'node:path';
import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parse } from 'yaml';
import { compile } from '../src/core/check/compile.ts';
import { usualFactKeys } from '../src/core/definition/builtIn.ts';
import type { Finding } from '../src/core/entry/findings.ts';
import { entrySchema } from '../src/core/export/entrySchema.ts';
import { zod } from '../src/core/export/formats/zod.ts';
import { kinds } from '../src/core/kinds/index.ts';
import { link } from '../src/core/model/link.ts';
import { readField } from '../src/core/model/readField.ts';
import { entriesOf, model as models } from './support/models.ts';
import { coast, lumbrik, read, result, temporary, workspace } from './support/program.ts';
import { zodsOf } from './support/zods.ts';

const ajv = () => new Ajv2020({ strict: false, validateFormats: false });

/** Compiling a schema takes longer than all that is done with it: the same is compiled once. */
const validators = new Map<string, ValidateFunction>();
function schemaIn(folder: string, name: string): ValidateFunction {
  const text = read(folder, `schemas/${name}.json`);
  const validate = validators.get(text) ?? ajv().compile(JSON.parse(text));
  validators.set(text, validate);
  return validate;
}

describe('JSON Schemas of every kind of file, written by the tool [K4]', () => {
  test('a new workspace has them, named in its files, and every file of the demo passes its own', async () => {
    const parent = temporary();
    await lumbrik(parent, ['new', 'trust', '--starter', 'lighthouses']);
    const folder = path.join(parent, 'trust');
    const files = fs
      .readdirSync(path.join(folder, 'model'), { recursive: true, encoding: 'utf8' })
      .filter((file) => file.endsWith('.yaml'))
      .map((file) => `model/${file}`);
    expect(files.length).toBeGreaterThan(5);
    const validateBy = memo((schema: string) => ajv().compile(JSON.parse(read(folder, schema))));
    for (const file of ['lumbrik.yaml', ...files]) {
      const data = parse(read(folder, file));
      const validate = validateBy(path.posix.join(path.posix.dirname(file), data.$schema));
      expect([file, validate(data), validate.errors]).toEqual([file, true, null]);
    }
    expect((await result(folder, ['check'])).mistakes).toEqual([]);
    expect(await result(folder, ['schemas', '--check'])).toMatchObject({ code: 0, current: true });
  });

  test('the schemas of entries accept the entries of the demo, with labels and help beside the fields', async () => {
    const folder = coast();
    await lumbrik(folder, ['schemas']);
    const tour = JSON.parse(read(folder, 'schemas/entries/tour.json'));
    expect(tour.properties.minutes).toMatchObject({
      title: 'Minutes',
      description: expect.stringContaining('easy pace'),
    });
    const validate = schemaIn(folder, 'entries/departure');
    for (const file of fs.readdirSync(path.join(folder, 'content/departure'))) {
      const data = JSON.parse(read(folder, `content/departure/${file}`));
      expect([file, validate(data), validate.errors]).toEqual([file, true, null]);
    }
  });

  const good: readonly [string, string, string][] = [
    [
      'type',
      'every kind',
      `type: a\nfields:\n${[...kinds.values()].map((kind) => `  ${kind.name}: ${JSON.stringify({ kind: kind.name, ...kind.example.options })}\n`).join('')}`,
    ],
    [
      'type',
      'kits, shared fields, narrowing',
      'type: a\nextends: b\nkits: [c]\nfields:\n  d: { use: phone, required: true }\n  e: { max: 3 }\n  f: { kind: price }\n',
    ],
    ['kit', 'a kit', 'kit: a\nfields:\n  b: { kind: object, fields: { c: { kind: text } } }\n'],
    [
      'taxonomy',
      'every option',
      'taxonomy: a\nopen: true\nborrows: [b:c]\naddress: /{path}\nterms:\n  - x\n  - { term: y, label: { en: Y }, synonyms: [z], retired: { use: x }, terms: [{ also: x }] }\n',
    ],
    ['terms', 'terms', 'taxonomy: a\nterms: [x]\n'],
    ['field', 'a shared field', 'field: phone\nkind: text\nmax: 20\nhelp: With the country.\n'],
    ['kind', 'a kind', 'kind: price\non: decimal\noptions: { unit: EUR }\n'],
    [
      'workspace',
      'languages',
      'workspace: A\nlanguages: [en, { language: fr, required: published, fallback: [en] }]\n',
    ],
    [
      'migration',
      'steps',
      `migration: 1\nabout: x\nfrom: ${'a'.repeat(64)}\nto: ${'b'.repeat(64)}\nsteps:\n  - { rename: a.b, to: c }\n  - { drop: a:b, use: c, open: Really? }\n`,
    ],
  ];
  test.each(good)('%s: %s passes', async (name, _what, text) => {
    const folder = coast();
    await lumbrik(folder, ['schemas']);
    const validate = schemaIn(folder, name);
    expect([validate(parse(text)), validate.errors]).toEqual([true, null]);
  });

  test.each([
    ['type', 'type: a\nfields:\n  b: { kind: text, requird: true }\n'],
    ['type', 'type: a\nfields:\n  b: { kind: text, max: many }\n'],
    ['type', 'type: a\nfileds: {}\n'],
    ['type', 'type: a\nfields:\n  b: { kind: choice }\n'],
    ['kit', 'kit: a\ntitled: b\n'],
    ['taxonomy', 'taxonomy: a\nterms: [{ label: X }]\n'],
    ['taxonomy', 'taxonomy: a\nopen: maybe\n'],
    ['terms', 'taxonomy: a\nterms: { x: 1 }\n'],
    ['field', 'field: phone\nkind: text\nmx: 3\n'],
    ['field', 'field: phone\n'],
    ['kind', 'kind: price\n'],
    ['workspace', 'workspace: A\nlanguages: English\n'],
    [
      'migration',
      `migration: 1\nabout: x\nfrom: ${'a'.repeat(64)}\nto: ${'b'.repeat(64)}\nsteps:\n  - { renam: a.b }\n`,
    ],
  ])('%s: a bad file does not', async (name, text) => {
    const folder = coast();
    await lumbrik(folder, ['schemas']);
    expect(schemaIn(folder, name)(parse(text))).toBe(false);
  });

  test('they are told to be out of date, brought up to date by add, and go with their type', async () => {
    const folder = workspace({ 'model/types/a.yaml': '# first\ntype: a\n', 'model/types/b.yaml': 'type: b\n' });
    expect((await result(folder, ['schemas', '--name'])).named).toEqual([
      'lumbrik.yaml',
      'model/types/a.yaml',
      'model/types/b.yaml',
    ]);
    expect(read(folder, 'model/types/a.yaml')).toBe('# first\n$schema: ../../schemas/type.json\ntype: a\n');
    await lumbrik(folder, ['add', 'field', 'a', 'name', '--kind', 'text']);
    expect((await result(folder, ['schemas', '--check'])).code).toBe(0);
    fs.rmSync(path.join(folder, 'model/types/b.yaml'));
    expect(await result(folder, ['schemas', '--check'])).toMatchObject({
      code: 1,
      removed: ['schemas/entries/b.json'],
    });
    await lumbrik(folder, ['schemas']);
    expect(fs.existsSync(path.join(folder, 'schemas/entries/b.json'))).toBe(false);
  });
});

/** What only our check can say, and JSON Schema cannot: each with why. */
const beyondSchema: ReadonlySet<Finding['finding']> = new Set([
  'malformed-identifier', // The identifier is the name of the file.
  'too-early', // Dates are texts there, and texts have no order.
  'too-late',
  'too-many-places', // `multipleOf` of 0.1 is wrong for binary numbers.
  'not-comparable',
  'unit-not-allowed',
  'too-small', // Of durations; of numbers they agree, see below.
  'too-large',
  'placeholder',
  'heading-level',
]);

describe('our check of the structure of an entry and a standard validator agree [K1]', () => {
  test('on 10,000 random entries of random models', () => {
    const counts = { agreed: 0, beyond: 0 };
    const compiled = memo((definition: Parameters<typeof link>[0]) => {
      const model = link(definition);
      const schemas = [...model.types.values()].map(
        (type) => [type.name, ajv().compile(entrySchema(type, model))] as const,
      );
      const types = [...model.types.values()];
      const zods = zodsOf(zod.text({ workspace: 'Any', model, types, factKeys: [usualFactKeys], call: 'a test' }));
      return { checker: compile(model), schemas: new Map(schemas), zods };
    });
    const examine = (
      definition: Parameters<typeof link>[0],
      entries: readonly { readonly type: string; readonly id: string; readonly values: any }[],
    ) => {
      const { checker, schemas, zods } = compiled(definition);
      for (const entry of entries) {
        const errors = checker.check(entry).findings.filter(({ severity }) => severity === 'error');
        const isFine = schemas.get(entry.type)?.({ ...entry.values });
        const said = zods[entry.type]?.safeParse(entry.values);
        if (said?.success !== isFine)
          throw new Error(
            `${JSON.stringify(entry.values)} of ${JSON.stringify(definition.types[entry.type])}: schema ${isFine}, Zod ${said?.success}: ${said?.error?.message}`,
          );
        if ((errors.length === 0) === isFine) counts.agreed += 1;
        else if (isFine && errors.every(({ finding }) => beyondSchema.has(finding))) counts.beyond += 1;
        else
          throw new Error(
            `${JSON.stringify(entry.values)} of ${JSON.stringify(definition.types[entry.type])}: schema ${isFine}, ours ${JSON.stringify(errors.map(({ finding, path: at }) => `${finding} ${at.join('/')}`))} ${JSON.stringify(schemas.get(entry.type)?.errors)}`,
          );
      }
      return entries.length;
    };
    // Compiling a schema costs more than checking entries: a few models, each with many entries.
    const { seed } = fc.readConfigureGlobal();
    const some = { ...(seed === undefined ? {} : { seed }) };
    let seen = 0;
    for (const definition of fc.sample(models, { ...some, numRuns: 45 }))
      for (const entries of fc.sample(entriesOf(definition), { ...some, numRuns: 95 }))
        seen += examine(definition, entries);
    expect(seen).toBeGreaterThanOrEqual(10_000);
    expect(counts.agreed / seen).toBeGreaterThan(0.98);
  }, 120_000);

  /** Values that lie just inside and just outside what each kind allows, and some of every other shape. */
  const edges: Readonly<Record<string, readonly unknown[]>> = {
    text: ['a', '', 'a\nb', 'x'.repeat(80), 'x'.repeat(81), 'Skerry', 'skerry'],
    decimal: [38.5, 38.55, -0.1, '38.5', 1e300],
    integer: [1, 40, 41, 1.5, 2 ** 53],
    date: ['2026-02-28', '2026-2-28', '1699-12-31'],
    time: ['09:30', '9:30', '24:00', '09:30:15'],
    dateTime: ['2026-03-01T09:30:00Z', '2026-03-01 09:30', '2026-03-01T09:30:00'],
    duration: ['PT1H30M', 'P', 'PT', '1:30', 'PT9H', 'P1M'],
    choice: ['easy', 'very-hard', 'Easy'],
    slug: ['skerry-point', 'Skerry Point', 'a--b', 'x'.repeat(129)],
    email: ['a@b.example', 'a@b', '@b.example', `${'a'.repeat(250)}@b.example`],
    webAddress: [
      'https://gannet-sound.example/',
      'gannet.example',
      'https://a b.example',
      'HTTPS://GANNET-SOUND.EXAMPLE',
    ],
    colour: ['#cc3333', '#c33', '#cc33', 'red', '#CC3333'],
    point: [{ lat: 57, lon: -6 }, { lat: 91, lon: 0 }, { lat: 1 }, [57, -6], { lat: 1, lon: 1, alt: 1 }],
    term: ['north', 'skerries', 'south', 'holm'],
    reference: ['ada-rook', 'keeper/ada-rook', 'tour/a', 'Ada'],
    asset: [
      'a.png',
      '../a.png',
      '/a.png',
      { file: 'a.png', alt: 'A' },
      { file: 'a.png' },
      { alt: 'A' },
      'a/./b',
      'a//b',
    ],
    object: [{ opens: '10:00' }, { closes: '10:00' }, { opens: '10:00', closes: '25:00' }, { opens: '10:00', x: 1 }],
    richText: [
      { type: 'root', children: [] },
      { type: 'paragraph', children: [] },
    ],
  };
  const others: readonly unknown[] = [true, 0, 'x', [], {}, null, [1], { a: 1 }];

  test.each([...kinds.keys()])('at the edges of %s', (name) => {
    const kind = kinds.get(name);
    const { field } = readField({ kind: name, ...(kind?.example.options ?? {}) });
    const fields = { x: field, name: { kind: 'text' } };
    const definition: any = {
      languages: ['en'],
      types: { a: { fields }, keeper: { fields: {} }, lighthouse: { fields: {} } },
      taxonomies: {
        region: {
          terms: { north: {}, skerries: {}, south: {} },
          tree: [{ term: 'north', terms: [{ term: 'skerries' }] }, { term: 'south' }],
        },
      },
    };
    const model = link(definition);
    const type = model.types.get('a');
    if (!type) throw new Error('the type is gone');
    const validate = ajv().compile(entrySchema(type, model));
    const zods = zodsOf(
      zod.text({ workspace: 'Any', model, types: [type], factKeys: [usualFactKeys], call: 'a test' }),
    );
    const told = [...(edges[name] ?? []), ...others, kind?.example.value].map((value) => {
      const errors = compile(model)
        .check({ type: 'a', id: 'b', values: { x: value as any } })
        .findings.filter(({ severity }) => severity === 'error');
      const isFine = validate({ x: value });
      // What a JSON Schema of a field's own says, Zod does not say again.
      if (name !== 'json') expect([value, zods.a?.safeParse({ x: value }).success]).toEqual([value, isFine]);
      const isExplained =
        isFine && errors.every(({ finding }) => beyondSchema.has(finding) || beyondKinds[name]?.includes(finding));
      return (errors.length === 0) === isFine || isExplained
        ? undefined
        : [value, isFine, errors.map(({ finding }) => finding)];
    });
    expect(told.filter((one) => one !== undefined)).toEqual([]);
  });
});

/** What JSON Schema could say of a kind only at such length that nobody would read it. */
const beyondKinds: Readonly<Record<string, readonly string[]>> = {
  richText: ['not-rich-text'],
  webAddress: ['host-not-allowed', 'not-a-web-address'],
  slug: [],
  asset: ['alt-missing', 'wrong-shape'],
};

/** Remembers the last result. */
function memo<A, B>(make: (from: A) => B): (from: A) => B {
  let last: { readonly from: A; readonly made: B } | undefined;
  return (from) => {
    if (last?.from !== from) last = { from, made: make(from) };
    return last.made;
  };
}
