import { describe, expect, test } from 'vitest';
import { edit, lumbrik, result, workspace } from './support/program.ts';

const light = (schema: string, value: string) =>
  workspace({
    'model/types/light.yaml': `type: light\nfields:\n  sensor: { kind: json, schema: ${schema} }\n`,
    'content/light/a.yaml': `sensor: ${value}\n`,
  });
const schema =
  '{ type: object, required: [name], properties: { name: { type: string, pattern: "^[a-z]+$" }, runs: { type: array, items: { type: integer } }, unit: { items: { anyOf: [{ const: m }, { type: integer, maximum: 3 }, { type: object }] } } }, additionalProperties: false }';

describe('free JSON against a JSON Schema [C1] [M2]', () => {
  test.each<[string, string, readonly string[]]>([
    ['what obeys it', '{ name: a, runs: [1, 2] }', []],
    ['a text that does not match', '{ name: A }', ['/sensor/name']],
    ['an item of another type', '{ name: a, runs: [1, x] }', ['/sensor/runs/1']],
    ['a key too many', '{ name: a, rnus: 1 }', ['/sensor/rnus']],
    ['a key missing beside another mistake', '{ runs: 1 }', ['/sensor', '/sensor/runs']],
    [
      'one mistake for all the alternatives of a value',
      '{ name: a, unit: [x, m, 5, 1] }',
      ['/sensor/unit/0', '/sensor/unit/2'],
    ],
  ])('%s', async (_name, value, pointers) => {
    const { findings } = await result(light(schema, value), ['check']);
    expect(findings.map(({ pointer }: any) => pointer)).toEqual(pointers);
    for (const { finding } of findings) expect(finding).toBe('schema-broken');
  });

  test.each<[string, string, RegExp, RegExp | undefined]>([
    ['that refers to another place', '{ $ref: "https://schema.example/x" }', /nothing is fetched/u, /\$defs/u],
    ['with a pattern that looks ahead', '{ pattern: "(?=a)b" }', /looks ahead/u, /rule/u],
    ['with a pattern that is none', '{ patternProperties: { "(": {} } }', /no regular expression/u, undefined],
    ['that refers to itself without end', '{ $ref: "#" }', /without end/u, undefined],
    ['that is none', '[1]', /it takes/u, undefined],
    ['with a type that is none', '{ type: strnig }', /^`schema.type` is “strnig”/u, /`string`/u],
    ['with a misspelt keyword', '{ properties: { a: { requird: [x] } } }', /a.requird` is no key/u, /`required`/u],
    ['of an old draft', '{ items: [{ type: string }] }', /holds a list/u, /prefixItems/u],
    ['with a bound that is none', '{ exclusiveMinimum: true }', /is true, not a number/u, undefined],
    ['with a name required twice', '{ required: [a, a] }', /not a list of names/u, undefined],
    ['that asks the impossible', '{ allOf: [] }', /not a list of schemas/u, undefined],
  ])('a schema %s is a mistake', async (_name, broken, says, mend) => {
    expect((await result(light(broken, '1'), ['check'])).mistakes).toMatchObject([
      { line: 3, says: expect.stringMatching(says), ...(mend ? { mend: expect.stringMatching(mend) } : {}) },
    ]);
  });

  test('each mistake in a schema has its own place; a field that is called like a slip is none', async () => {
    const folder = workspace({
      'model/types/light.yaml': `type: light
fields:
  sensor:
    kind: json
    schema:
      properties:
        typ: { type: number, x-unit: m, nullable: true }
        tpye: { tpye: number }
      minItems: -1
`,
    });
    expect((await result(folder, ['check'])).mistakes).toMatchObject([
      { line: 8, column: 17, says: '`schema.properties.tpye.tpye` is no keyword', mend: 'Did you mean `type`?' },
      { line: 9, column: 17, says: '`schema.minItems` is -1, not a whole number of at least 0' },
    ]);
  });

  test('a value that is nested without end by the schema stops nothing', async () => {
    const tree =
      '{ $defs: { node: { type: object, properties: { next: { $ref: "#/$defs/node" } } } }, $ref: "#/$defs/node" }';
    const deep = `${'{ next: '.repeat(300)}1${' }'.repeat(300)}`;
    expect((await result(light(tree, deep), ['check'])).findings.length).toBeGreaterThan(0);
  });

  test('another schema is counted on the entries', async () => {
    const folder = light('{ type: object }', '{ name: a }');
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'model/types/light.yaml', '{ type: object }', '{ type: object, required: [runs] }');
    expect((await result(folder, ['diff'])).changes).toMatchObject([
      { option: 'schema', entries: 'migrate', impact: { hits: 1 } },
    ]);
  });
});
