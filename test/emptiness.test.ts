import { describe, expect, test } from 'vitest';
import { lightModel } from './support/migrated.ts';
import { lumbrik, read, result, workspace, write } from './support/program.ts';

const a = 'content/light/a.yaml';
const findings = async (folder: string): Promise<readonly string[]> =>
  (await result(folder, ['check'])).findings.map(({ finding, pointer }: any) => `${finding} ${pointer}`);

const values = ['""', '[]', '{}', 'null'] as const;

describe('one meaning of empty [C3, C13, D2, H2]', () => {
  test.each(values)(
    '%s is no value: for what is required, in rules and conditions, and nobody else has it',
    async (value) => {
      const rules =
        'rules:\n  - { expect: "!has(entry.note)", say: It has a note. }\n  - { expect: entry.other == "x", say: Other. }\n';
      const folder = workspace({
        ...lightModel(
          `  note: { kind: json }\n  other: { kind: text }\n  must: { kind: json, required: true }\n  one: { kind: text, unique: true }\n${rules}`,
        ),
        [a]: `note: ${value}\nother: ${value}\nmust: ${value}\none: ${value}\n`,
        'content/light/b.yaml': `must: 1\none: ${value}\n`,
      });
      expect(await findings(folder)).toEqual(['required-missing /must']);
    },
  );

  test.each(values)('%s is one where a field says that it may be empty, but for null', async (value) => {
    const rules = 'rules:\n  - { expect: "!has(entry.note)", say: It has a note. }\n';
    const folder = workspace({
      ...lightModel(`  note: { kind: json, required: true, mayBeEmpty: true }\n${rules}`),
      [a]: `note: ${value}\n`,
    });
    expect(await findings(folder)).toEqual([value === 'null' ? 'required-missing /note' : 'rule-broken ']);
  });

  test('is held to the limits of its field, and shown', async () => {
    const folder = workspace({
      ...lightModel(
        '  t: { kind: text, min: 1, mayBeEmpty: true }\n  l: { kind: text, many: { min: 1 }, mayBeEmpty: true }\n  m: { kind: text, localized: true, required: true, mayBeEmpty: true }\n',
      ),
      [a]: 't: ""\nl: []\nm: { en: "" }\n',
      'content/light/b.yaml': 'm: {}\n',
    });
    expect(await findings(folder)).toEqual(['too-short /t', 'too-few-items /l', 'required-missing /m']);
    expect((await lumbrik(folder, ['show', 'light.t'])).out).toContain('may be empty');
    expect((await result(folder, ['show', 'light.m'])).filled).toBe(1);
  });

  test('a language, or a key of an object, that says nothing is not there for an expression', async () => {
    const folder = workspace({
      ...lightModel(
        '  t: { kind: text, localized: true }\n  o: { kind: object, fields: { x: { kind: text }, y: { kind: text, mayBeEmpty: true } } }\nrules:\n  - { expect: "has(entry.t.en) && has(entry.o.y) && !has(entry.t.fr) && !has(entry.o.x)", say: No. }\n',
      ),
      [a]: 't: { en: a, fr: "" }\no: { x: "", y: "" }\n',
      'lumbrik.yaml': 'workspace: A\nlanguages: [en, fr]\n',
    });
    expect(await findings(folder)).toEqual([]);
  });

  test('what counts as none stays where the new form of its field takes it, and goes elsewhere; what is one is carried', async () => {
    const folder = workspace({
      ...lightModel(
        '  t: { kind: text }\n  u: { kind: text, mayBeEmpty: true }\n  v: { kind: text }\n  w: { kind: text }\n  x: { kind: text, many: true }\n  y: { kind: text, localized: true }\n',
      ),
      [a]: 't: ""\nu: ""\nv: ""\nw: ""\nx: []\ny: { en: "" }\n',
      'content/light/b.yaml': 't: "1"\nu: "2"\nv: long\nw: x\nx: [x]\ny: { en: x }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(
      folder,
      lightModel(
        '  t: { kind: integer }\n  u: { kind: text, many: true, mayBeEmpty: true }\n  v: { kind: longText }\n  w: { kind: text, many: { orOne: true } }\n  x: { kind: text }\n  y: { kind: text, many: true, localized: true }\n',
      ),
    );
    const { changes } = await result(folder, ['diff']);
    const changed = (field: string) => changes.find(({ address }: any) => address === `light.${field}`)?.impact.changed;
    expect(['t', 'u', 'v', 'w', 'x', 'y'].map(changed)).toEqual([2, 2, 0, 0, 2, 2]);
    await lumbrik(folder, ['migration', 'draft']);
    expect((await result(folder, ['migration', 'rehearse'])).lost).toEqual([]);
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, a)).toBe('u: []\nv: ""\nw: ""\n');
    expect(read(folder, 'content/light/b.yaml')).toBe('t: 1\nu:\n  - "2"\nv: long\nw: x\nx: x\ny: { en: [ x ] }\n');
  });

  test('a language that said nothing goes where its field no longer differs by language', async () => {
    const folder = workspace({
      ...lightModel(
        '  s: { kind: object, localized: true, many: true, fields: { n: { kind: text } } }\n  t: { kind: text, localized: true }\n  u: { kind: text, localized: true }\n',
      ),
      [a]: 's: { en: [] }\nt: { en: "" }\nu: { en: "" } # as it was\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(
      folder,
      lightModel('  s: { kind: decimal }\n  t: { kind: text }\n  u: { kind: longText, localized: true }\n'),
    );
    await lumbrik(folder, ['migration', 'draft']);
    expect((await result(folder, ['migration', 'rehearse'])).lost).toEqual([]);
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, a)).toBe('u: { en: "" } # as it was\n');
    expect(await findings(folder)).toEqual([]);
  });

  test('a change of it is rated and counted like any other option', async () => {
    const folder = workspace({
      ...lightModel('  t: { kind: text, required: true, mayBeEmpty: true }\n'),
      [a]: 't: ""\n',
      'content/light/b.yaml': 't: x\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, lightModel('  t: { kind: text, required: true }\n'));
    const { changes } = await result(folder, ['diff']);
    expect(changes).toMatchObject([{ option: 'mayBeEmpty', entries: 'migrate', impact: { hits: 1, of: 2 } }]);
  });
});

describe('computed fields are nobody’s to write [D2, B5]', () => {
  const model = (fields: string) => workspace(lightModel(fields));
  test.each([
    ['required', '  a: { kind: integer, computed: "1", required: true }\n', 'nobody has to write it'],
    ['with a default', '  a: { kind: integer, computed: "1", default: 1 }\n', 'nobody has to write it'],
    ['from itself', '  a: { kind: integer, computed: entry.a + 1 }\n', '`a` is computed from itself'],
    [
      'in a circle',
      '  a: { kind: integer, computed: entry.b }\n  b: { kind: integer, computed: entry.c }\n  c: { kind: integer, computed: "entry.a + entry.b" }\n',
      'and that from `',
    ],
  ])('%s is a mistake', async (_what, fields, says) => {
    const { mistakes } = await result(model(fields), ['check']);
    expect(mistakes.map((one: any) => one.says)).toEqual([expect.stringContaining(says)]);
  });

  test('they are shown as such, and never offered', async () => {
    const folder = model('  a: { kind: integer, computed: "size(entry.name)" }\n');
    expect((await lumbrik(folder, ['show', 'light'])).out).toMatch(
      /a +integer +computed +computed: size\(entry\.name\)/u,
    );
    await lumbrik(folder, ['entry', 'new', 'light', 'x']);
    expect(read(folder, 'content/light/x.yaml')).not.toContain('a:  #');
    await lumbrik(folder, ['schemas']);
    expect(JSON.parse(read(folder, 'schemas/entries/light.json')).properties.a.readOnly).toBe(true);
  });
});

describe('entry new writes nothing that check refuses but places to fill in [B5]', () => {
  const type = `type: light
titled: name
groups: [A, B]
fields:
  name: { kind: text, required: true, default: { en: Nameless, fr: Sans nom }, group: A, localized: true }
  x: { kind: text, group: B }
  y: { kind: text, group: A }
  slug: { kind: slug, from: name, localized: true }
  deep: { kind: object, required: true, fields: { t: { kind: text, localized: true, required: true }, d: { kind: integer, required: true, default: 3 } } }
`;
  const setup = () =>
    workspace({
      'lumbrik.yaml': 'workspace: A\nlanguages: [en, { language: fr, required: true }]\n',
      'model/types/light.yaml': type,
      'content/light/a.yaml': 'name: { en: A, fr: A }\nslug: { en: the-tower }\ndeep: { t: { en: a, fr: a }, d: 1 }\n',
    });

  test('a title against a default, a slug in each language that nobody has, groups once, objects with languages', async () => {
    const folder = setup();
    await lumbrik(folder, ['entry', 'new', 'light', '--title', 'The Tower']);
    const text = read(folder, 'content/light/the-tower.yaml');
    expect(text).toContain('name: { en: The Tower,');
    expect(text).toContain('slug: { en: the-tower-2,');
    expect(text.match(/^# A$/gmu)).toHaveLength(1);
    const { findings: found } = await result(folder, ['check']);
    expect(found.map(({ finding }: any) => finding)).toEqual(found.map(() => 'placeholder'));
    expect(found.map(({ pointer }: any) => pointer).sort()).toEqual([
      '/deep/t/en',
      '/deep/t/fr',
      '/name/fr',
      '/slug/fr',
    ]);
  });

  test('a title that nobody else may have is refused where somebody has it', async () => {
    const folder = workspace({
      'model/types/light.yaml': 'type: light\ntitled: name\nfields:\n  name: { kind: text, unique: true }\n',
      'content/light/a.yaml': 'name: A\n',
    });
    expect(await lumbrik(folder, ['entry', 'new', 'light', 'b', '--title', 'A'])).toMatchObject({
      code: 3,
      err: expect.stringContaining('Another entry has the name “A” already'),
    });
  });
});
