import { describe, expect, test } from 'vitest';
import { edit, lumbrik, result, workspace } from './support/program.ts';

const light = (rest: string, more: Record<string, string> = {}) =>
  workspace({
    'lumbrik.yaml':
      'workspace: Gannet Sound\nlanguages:\n  - en\n  - { language: fr, required: published, fallback: [de] }\n  - de\n',
    'model/types/light.yaml': `type: light\n${rest}`,
    ...more,
  });
const mistake = async (rest: string, more: Record<string, string> = {}) =>
  (await result(light(rest, more), ['check'])).mistakes[0];

describe('what is said to people can be said in each language [B1] [B2] [B4] [C8]', () => {
  const said = `label: { one: { en: Light, fr: Phare }, many: { en: Lights, fr: Phares } }
guide: { en: Write for a visitor., fr: Pour un visiteur. }
fields:
  name: { kind: text, label: { en: Name, fr: Nom }, help: { en: As on the chart., fr: Comme sur la carte. }, required: true }
  state: { kind: choice, choices: [{ choice: lit, label: { en: Lit, fr: Allumé } }] }
rules:
  - { expect: 'entry.state == "lit"', say: { en: It has to burn., fr: Il doit brûler. } }
`;
  test('and the main language is what the program speaks', async () => {
    const folder = light(said, { 'content/light/a.yaml': 'state: lit\n' });
    const { label, guide, fields, rules } = await result(folder, ['show', 'light']);
    expect([label, guide, fields[0].label, fields[0].help, rules[0].say]).toEqual([
      { one: 'Light', many: 'Lights' },
      'Write for a visitor.',
      'Name',
      'As on the chart.',
      'It has to burn.',
    ]);
    expect((await result(folder, ['check'])).findings[0].mend).toBe('Give it a value. As on the chart.');
  });

  test.each([
    ['a language that the workspace does not have', 'about: { en: A, it: B }\n', /`it` is no language/u],
    ['the main language left out', 'about: { fr: B }\n', /nothing is said in en/u],
    ['the same in a field', 'fields:\n  name: { kind: text, help: { fr: B } }\n', /nothing is said in en/u],
    ['the same in a choice', 'fields:\n  a: { kind: choice, choices: [{ choice: b, label: { it: B } }] }\n', /`it`/u],
    ['the same in a rule', "rules:\n  - { expect: 'true', say: { it: B } }\n", /`it` is no language/u],
    ['neither a text nor languages', 'about: 3\n', /it takes a text/u],
  ])('%s is a mistake', async (_name, rest, says) => {
    expect((await mistake(rest)).says).toMatch(says);
  });
});

describe('languages with fall-backs, required and optional [C8]', () => {
  const fields =
    'titled: name\nfields:\n  name: { kind: text, localized: true, required: true }\n  about: { kind: text, localized: true }\n';

  test('a required language asks where the field asks, once the entry is as far as the language says', async () => {
    const folder = light(fields, {
      'content/light/a.yaml': 'name: { en: A }\n',
      'content/light/b.yaml': 'status: draft\nname: { en: B }\n',
      'content/light/c.yaml': 'name: { en: C, fr: C }\n',
    });
    expect((await result(folder, ['check'])).findings).toMatchObject([
      { entry: 'light/a', severity: 'error', pointer: '/name/fr' },
      { entry: 'light/b', severity: 'warning', pointer: '/name/fr' },
    ]);
  });

  test('an entry read in a language takes what is missing from the fall-backs, and says so', async () => {
    const folder = light(fields, {
      'content/light/a.yaml': 'name: { en: A, de: Ä, fr: À }\nabout: { en: By the sea, de: Am Meer }\n',
      'content/light/b.yaml': 'name: { en: B, fr: Bé }\nabout: { en: By the sea }\n',
    });
    expect(await result(folder, ['show', 'light/a', '--language', 'fr'])).toMatchObject({
      title: 'À',
      values: [{ value: 'À' }, { value: 'Am Meer', language: 'de' }],
    });
    expect((await result(folder, ['show', 'light/b', '--language', 'fr'])).values[1]).toMatchObject({ language: 'en' });
    expect((await lumbrik(folder, ['show', 'light/b', '--language', 'fr'])).out).toMatch(
      /about +By the sea {2}\(en\)/u,
    );
    expect(await lumbrik(folder, ['show', 'light/b', '--language', 'it'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('Its languages are en, fr and de'),
    });
  });

  test('everything that is shown has its label in the language asked for', async () => {
    const folder = light(
      `label: { one: { en: Light, fr: Phare }, many: { en: Lights, fr: Phares } }
about: { en: A light., fr: Un phare. }
fields:
  name: { kind: text, label: { en: Full name, de: Voller Name } }
  state: { kind: choice, choices: [{ choice: lit, label: { en: Lit, fr: Allumé } }, dark] }
  area: { kind: term, taxonomy: area }
`,
      {
        'model/taxonomies/area.yaml':
          'taxonomy: area\nlabel: { en: Area, fr: Zone }\nterms: [{ term: north, label: { en: North, fr: Nord } }]\n',
      },
    );
    const out = async (...args: string[]) => {
      const ran = await lumbrik(folder, args);
      return ran.out + ran.err;
    };
    expect(await out('show', '--language', 'fr')).toMatch(/light +Phares/u);
    expect(await out('show')).not.toContain('Label');
    // Nothing in French: what stands in for it is read.
    expect(await out('show', 'light', '--language', 'fr')).toMatch(/^Phares[\s\S]*Un phare\.[\s\S]*name +Voller Name/u);
    expect(await out('show', 'light.state', '--language', 'fr')).toContain('Allumé (lit), Dark (dark)');
    expect(await out('show', 'area', '--language', 'fr')).toMatch(/^Zone[\s\S]*Nord {2}north/u);
    expect(await out('terms', 'area', '--language', 'fr')).toMatch(/^Zone[\s\S]*Nord {2}north/u);
    expect((await lumbrik(folder, ['terms', '--language', 'it'])).err).toContain('Its languages are');
  });

  test.each([
    ['a language twice', 'languages: [en, en]', /stands twice/u],
    ['a fall-back that is no language', 'languages: [en, { language: fr, fallback: [it] }]', /no language `it`/u],
    ['a fall-back to itself', 'languages: [en, { language: fr, fallback: [fr] }]', /falls back to itself/u],
    ['a code that is none', 'languages: [English]', /BCP 47/u],
  ])('%s is refused with its place', async (_name, languages, says) => {
    const { code, err } = await lumbrik(workspace({ 'lumbrik.yaml': `workspace: A\n${languages}\n` }), ['check']);
    expect(code).toBe(2);
    expect(err).toMatch(says);
    expect(err).toMatch(/lumbrik\.yaml:2:/u);
  });

  test('a language that becomes required is counted, drafted and proven', async () => {
    const folder = light(fields, { 'content/light/a.yaml': 'name: { en: A, fr: A }\n' });
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'lumbrik.yaml', '  - de', '  - { language: de, required: true, fallback: [fr] }');
    expect((await result(folder, ['diff'])).changes).toMatchObject([
      { address: 'languages', says: 'de: fallback + fr', entries: 'valid', readers: 'notice' },
      { address: 'languages', says: 'de: required none → true', entries: 'migrate', impact: { hits: 1 } },
    ]);
    const { file } = await result(folder, ['migration', 'draft']);
    edit(folder, file, / +open: .*\n/u, '');
    expect(await result(folder, ['migration', 'rehearse'])).toMatchObject({ errorsAfter: 1, lost: [] });
  });
});

describe('what new entries start with [B5]', () => {
  test('is shown, and a change of it touches no entry that exists', async () => {
    const folder = light(
      'byline: false\nversions: true\nbuiltIn: { status: { default: archived } }\npreviews: { site: { address: "https://a.example/{id}", required: true }, print: { address: "https://b.example", offered: false }, editor: {} }\n',
      { 'content/light/a.yaml': '{}\n' },
    );
    await lumbrik(folder, ['seal', '-m', 'First']);
    const { out } = await lumbrik(folder, ['show', 'light']);
    expect(out).toContain('New entries       archived by default\n  Byline            does not show\n');
    expect(out).toContain('Earlier versions  are kept\n');
    expect(out).toContain('Preview site      https://a.example/{id} (required before saving)\n');
    expect(out).toContain('Preview print     https://b.example (off)\n  Preview editor    in the editor\n');
    expect((await result(folder, ['show', 'light/a'])).previews).toEqual([
      { name: 'site', address: 'https://a.example/a' },
    ]);
    edit(folder, 'model/types/light.yaml', 'default: archived', 'default: published');
    edit(folder, 'model/types/light.yaml', 'byline: false', 'byline: true');
    edit(folder, 'model/types/light.yaml', 'offered: false', 'offered: true');
    edit(folder, 'model/types/light.yaml', 'editor: {}', 'page: "https://c.example"');
    const diff = await result(folder, ['diff']);
    expect(diff).toMatchObject({ entries: 'valid', readers: 'unaffected' });
    expect(diff.changes.map(({ says }: { readonly says: string }) => says)).toEqual([
      'builtIn status default archived → published (for new entries only)',
      'byline false → true',
      'previews editor {} → none, previews page none → https://c.example, previews print offered false → true',
    ]);
  });

  test('a change of all that is stated of it is told key by key', async () => {
    const folder = light('previews: { site: "https://a.example/{id}" }\n');
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(
      folder,
      'model/types/light.yaml',
      '"https://a.example/{id}"',
      '{ address: "https://a.example/{id}", required: true }',
    );
    edit(folder, 'model/types/light.yaml', 'previews:', 'builtIn: { status: { default: published } }\npreviews:');
    expect((await result(folder, ['diff'])).changes.map(({ says }: { readonly says: string }) => says)).toEqual([
      'builtIn status default none → published (for new entries only)',
      'previews site required none → true',
    ]);
  });
});

describe('preview links [B6]', () => {
  const previews = (address: string) =>
    `previews: { site: "${address}" }\nfields:\n  slug: { kind: slug, from: name }\n  name: { kind: text }\n  keepers: { kind: text, many: true }\n`;

  test('are filled from the entry, and left out where a value is missing', async () => {
    const folder = light(previews('https://preview.gannet.example/{language}/{slug}?s={status}'), {
      'content/light/a.yaml': 'slug: skerry-point\nname: Skerry & Point\n',
      'content/light/b.yaml': 'name: B\n',
    });
    expect((await result(folder, ['show', 'light/a', '--language', 'fr'])).previews).toEqual([
      { name: 'site', address: 'https://preview.gannet.example/fr/skerry-point?s=published' },
    ]);
    expect((await result(folder, ['show', 'light/b'])).previews).toEqual([]);
  });

  test.each([
    ['a field that is not there', 'https://a.example/{slag}', 'Did you mean `slug`?'],
    ['a field that holds many', 'https://a.example/{keepers}', 'Name a field that holds one value.'],
    ['no address', 'lights/{slug}', 'Start it with https:// or http://.'],
  ])('%s in one is a mistake in the model', async (_name, address, mend) => {
    expect(await mistake(previews(address))).toMatchObject({ line: 2, mend });
  });
});

describe('an explicit order of fields [B7]', () => {
  test('puts the named ones first, and is part of the model', async () => {
    const folder = light('order: [c, a]\nfields:\n  a: { kind: text }\n  b: { kind: text }\n  c: { kind: text }\n');
    await lumbrik(folder, ['seal', '-m', 'First']);
    expect((await result(folder, ['show', 'light'])).fields.map(({ name }: any) => name)).toEqual(['c', 'a', 'b']);
    edit(folder, 'model/types/light.yaml', '[c, a]', '[a, c]');
    expect((await result(folder, ['diff'])).changes).toMatchObject([{ says: 'order in another order' }]);
  });

  test('names only fields that are there, each once', async () => {
    expect((await mistake('order: [nmae]\nfields:\n  name: { kind: text }\n')).mend).toBe('Did you mean `name`?');
    expect((await mistake('order: [name, name]\nfields:\n  name: { kind: text }\n')).says).toBe('`name` stands twice');
  });
});

describe('an entry that says when it is public [B8]', () => {
  test('cannot end before it starts', async () => {
    const folder = light('', {
      'content/light/a.yaml': 'publicFrom: 2026-05-01\npublicUntil: 2026-04-01\n',
      'content/light/b.yaml': 'publicFrom: 2026-05-01T10:00:00+02:00\npublicUntil: 2026-05-01T09:00:00Z\n',
    });
    expect((await result(folder, ['check'])).findings).toMatchObject([
      { finding: 'window-reversed', entry: 'light/a', line: 2 },
    ]);
  });
});

describe('an example beside a field [C5]', () => {
  test('is shown, and has to obey the field', async () => {
    const fields = (example: string) =>
      `fields:\n  name: { kind: text, max: 20, help: As on the chart., example: ${example} }\n`;
    expect((await lumbrik(light(fields('Skerry Point')), ['show', 'light.name'])).out).toMatch(
      /Example +Skerry Point/u,
    );
    expect(await mistake(fields('A name that is far too long'))).toMatchObject({
      line: 3,
      says: expect.stringContaining("breaks the field's own rules: has 27 characters"),
    });
  });
});
