import { describe, expect, test } from 'vitest';
import { lightModel } from './support/migrated.ts';
import { edit, lumbrik, read, result, workspace, write } from './support/program.ts';

const a = 'content/light/a.yaml';
const findings = async (folder: string): Promise<string[]> =>
  (await result(folder, ['check'])).findings.map(({ finding, pointer }: any) => `${finding} ${pointer}`);
const says = async (folder: string): Promise<readonly string[]> =>
  (await result(folder, ['check'])).mistakes?.map(({ says: one }: any) => one) ?? [];

describe('fields that apply only where a condition holds [D2, B3, C12]', () => {
  const model = (more = '') =>
    lightModel(
      `  form: { kind: choice, choices: [tower, hut] }\n  storeys: { kind: integer, required: true, when: 'entry.form == "tower"'${more} }\n`,
    );

  test.each([
    ['form: tower\nstoreys: 3\n', []],
    ['form: hut\n', []],
    ['name: A\n', []],
    ['form: hut\nstoreys: null\n', []],
    ['form: tower\n', ['required-missing /storeys']],
    ['form: tower\nstoreys: x\n', ['wrong-shape /storeys']],
    ['form: hut\nstoreys: 3\n', ['not-applicable /storeys']],
    ['storeys: 3\n', ['not-applicable /storeys']],
  ])('%j', async (text, expected) => {
    expect(await findings(workspace({ ...model(), [a]: text }))).toEqual(expected);
  });

  test('are shown, offered and exported as such', async () => {
    const folder = workspace(model());
    expect((await lumbrik(folder, ['show', 'light'])).out).toContain('only where entry.form == "tower"');
    await lumbrik(folder, ['entry', 'new', 'light', 'x']);
    expect(read(folder, 'content/light/x.yaml')).toContain('# Only where entry.form == "tower"\n# storeys:');
    expect(await findings(folder)).toEqual([]);
    await lumbrik(folder, ['schemas']);
    const schema = JSON.parse(read(folder, 'schemas/entries/light.json'));
    expect([schema.required, schema.properties.storeys.description]).toEqual([
      undefined,
      'Only where entry.form == "tower".',
    ]);
  });

  test('a change of the condition is rated, counted and taken through a migration', async () => {
    const folder = workspace({ ...model(), [a]: 'form: tower\nstoreys: 3\n', 'content/light/b.yaml': 'form: hut\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/light.yaml', '"tower"', '"hut"');
    const { changes } = await result(folder, ['diff']);
    expect(changes).toMatchObject([{ option: 'when', entries: 'migrate', impact: { hits: 2, of: 2 } }]);
    edit(folder, 'model/types/light.yaml', /when: .* \}/u, 'when: has(entry.form) }');
    expect((await result(folder, ['diff'])).changes[0].impact).toMatchObject({ hits: 1 });
  });

  test('a field that they ask for gets another name, in the condition too', async () => {
    const folder = workspace({ ...model(), [a]: 'form: tower\nstoreys: 3\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/light.yaml', 'form: {', 'shape: {');
    edit(folder, 'model/types/light.yaml', 'entry.form', 'entry.shape');
    const { changes } = await result(folder, ['diff', '--renamed', 'light.form=shape']);
    expect(changes.map(({ change }: any) => change)).toEqual(['renamed']);
  });

  test.each([
    ['entry.frm == "x"', 'there is no field `frm`'],
    ['entry.storeys > 1', '`storeys` is looked at itself'],
    ['entry.form', 'it gives string, not true or false'],
  ])('%s is a mistake', async (condition, expected) => {
    const folder = workspace(model());
    edit(folder, 'model/types/light.yaml', /when: .* \}/u, `when: '${condition}' }`);
    expect((await says(folder)).join()).toContain(expected);
  });
});

describe('one alone or a list [C7, C11]', () => {
  const model = (many: string) =>
    lightModel(
      `  x: { kind: text, max: 3, many: ${many} }\nrules:\n  - { expect: entry.x.size() < 3, say: Too many. }\n`,
    );

  test('is checked, and seen by expressions as a list', async () => {
    const folder = workspace({
      ...model('{ orOne: true, max: 4 }'),
      [a]: 'x: abcd\n',
      'content/light/b.yaml': 'x: [a, b]\n',
      'content/light/c.yaml': 'x: ab\n',
      'content/light/d.yaml': 'x: [a, b, c]\n',
    });
    expect(await findings(folder)).toEqual(['too-long /x', 'rule-broken ']);
    await lumbrik(folder, ['schemas']);
    expect(JSON.stringify(JSON.parse(read(folder, 'schemas/entries/light.json')).properties.x)).toContain(
      '"type":"array"',
    );
  });

  test('what stands alone stays alone, and becomes a list where only that may be', async () => {
    const folder = workspace({ ...lightModel('  x: { kind: text }\n'), [a]: 'x: a\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, lightModel('  x: { kind: text, many: { orOne: true } }\n'));
    await lumbrik(folder, ['migration', 'draft']);
    await lumbrik(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    await lumbrik(folder, ['seal', '-m', 'two']);
    expect(read(folder, a)).toBe('x: a\n');
    write(folder, lightModel('  x: { kind: text, many: true }\n'));
    expect((await result(folder, ['diff'])).changes).toMatchObject([
      { option: 'many', entries: 'migrate', impact: { hits: 1 } },
    ]);
  });
});

describe('maps [C7, C11]', () => {
  const model = (keys: string, value: string, more = '') => ({
    ...lightModel(`  m: { kind: map, keys: ${keys}, value: ${value}${more} }\n`),
    'lumbrik.yaml': 'workspace: A\nlanguages: [en, fr]\n',
    'model/taxonomies/region.yaml': 'taxonomy: region\nterms: [north, south]\n',
  });

  test.each([
    [
      '{ kind: text, pattern: "^[a-z]$" }',
      '{ kind: integer }',
      '{ a: 1, bb: 2, c: x }',
      ['pattern /m/bb', 'wrong-shape /m/c'],
    ],
    [
      '{ kind: language }',
      '{ kind: text, required: true }',
      '{ en: a, fr: "", de: b }',
      ['required-missing /m/fr', 'not-a-choice /m/de'],
    ],
    ['{ kind: choice, choices: [x] }', '{ kind: text, many: true }', '{ x: [a], y: [b] }', ['not-a-choice /m/y']],
    [
      '{ kind: term, taxonomy: region }',
      '{ kind: map, keys: { kind: text }, value: { kind: integer } }',
      '{ north: { a: 1 }, east: { b: x } }',
      ['unknown-term /m/east', 'wrong-shape /m/east/b'],
    ],
    [
      '{ kind: reference, to: light }',
      '{ kind: object, fields: { n: { kind: text, required: true } } }',
      '{ a: { n: x }, gone: { n: "" } }',
      ['dangling-reference /m/gone', 'required-missing /m/gone/n'],
    ],
    ['{ kind: text }', '{ kind: text }', '[a]', ['single-value-expected /m']],
  ])('%s → %s', async (keys, value, said, expected) => {
    const folder = workspace({ ...model(keys, value), [a]: `m: ${said}\n` });
    expect((await findings(folder)).sort()).toEqual([...expected].sort());
  });

  test('how many keys', async () => {
    const folder = workspace({
      ...model('{ kind: text }', '{ kind: text }', ', min: 2, max: 2'),
      [a]: 'm: { a: x }\n',
      'content/light/b.yaml': 'm: { a: x, b: y, c: z }\n',
    });
    expect(await findings(folder)).toEqual(['too-few-items /m', 'too-many-items /m']);
  });

  test('keys are references and terms like any other, and change with them', async () => {
    const folder = workspace({
      ...model('{ kind: reference, to: [light, keeper] }', '{ kind: term, taxonomy: region }'),
      'model/types/keeper.yaml': 'type: keeper\nfields: {}\n',
      [a]: 'm: # theirs\n  keeper/k: north\n  light/a: south\n',
      'content/keeper/k.yaml': '{}\n',
    });
    expect((await result(folder, ['trace', 'keeper/k'])).pointedAtBy.next[0]).toMatchObject({
      name: 'light.m.keys',
      pointer: '/m/keeper~1k',
    });
    expect((await result(folder, ['terms', 'region'])).terms.map(({ entries }: any) => entries)).toEqual([1, 1]);
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { 'model/types/keeper.yaml': 'type: warden\nfields: {}\n' });
    edit(folder, 'model/types/light.yaml', '[light, keeper]', '[light, warden]');
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'keeper=warden']);
    const { lost, error } = await result(folder, ['migration', 'rehearse']);
    expect([error, lost]).toEqual([undefined, []]);
    await lumbrik(folder, ['migration', 'run']);
    expect(await findings(folder)).toEqual([]);
    expect(read(folder, a)).toContain('warden/k: north');
    await lumbrik(folder, ['migration', 'undo']);
    expect(read(folder, a)).toBe('m: # theirs\n  keeper/k: north\n  light/a: south\n');
  });

  test('a change of what the keys or the values are is rated and counted', async () => {
    const folder = workspace({ ...model('{ kind: text }', '{ kind: integer }'), [a]: 'm: { a: 1, b: 9 }\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/light.yaml', 'kind: integer', 'kind: integer, max: 5');
    expect((await result(folder, ['diff'])).changes).toMatchObject([
      { option: 'value', entries: 'migrate', impact: { hits: 1 } },
    ]);
    edit(folder, 'model/types/light.yaml', 'kind: integer, max: 5', 'kind: integer, help: Hours.');
    expect((await result(folder, ['diff'])).changes).toMatchObject([{ option: 'value', entries: 'valid' }]);
  });

  test.each([
    ['{ kind: integer }', '{ kind: text }', 'keys cannot be of kind integer'],
    ['{ kind: text, many: true }', '{ kind: text }', '`many` means nothing for keys'],
    ['{ kind: text }', '{ kind: text, group: A }', '`group` means nothing inside an object'],
    ['text', '{ kind: text }', 'the field says no kind'],
    ['{ kind: term, taxonomy: gone }', '{ kind: text }', 'there is no taxonomy `gone`'],
  ])('keys %s, values %s: a mistake', async (keys, value, expected) => {
    expect((await says(workspace(model(keys, value)))).join()).toContain(expected);
  });

  test('a model with maps is sealed, read again and compared', async () => {
    const folder = workspace(model('{ kind: language }', '{ kind: text }'));
    await lumbrik(folder, ['seal', '-m', 'one']);
    expect((await result(folder, ['diff'])).changes).toEqual([]);
    expect((await result(folder, ['history'])).ok).toBe(true);
  });
});
