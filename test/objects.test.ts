import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, result, workspace, write } from './support/program.ts';

const model = {
  'model/types/keeper.yaml': 'type: keeper\nfields:\n  name: { kind: text }\n',
  'model/taxonomies/season.yaml': 'taxonomy: season\nterms: [spring, summer, winter]\n',
  'model/kinds/clock.yaml': "kind: clock\non: time\noptions: { min: '06:00' }\n",
  'model/types/lighthouse.yaml': `
type: lighthouse
fields:
  hours:
    kind: object
    many: { max: 3 }
    fields:
      season: { kind: term, taxonomy: season, required: true }
      opens: { kind: clock, required: true }
      guide: { kind: reference, to: keeper }
      places: { kind: object, fields: { adults: { kind: integer, max: 20 }, label: { kind: text, localized: true } } }
`,
};
const content = {
  'content/keeper/ada-rook.yaml': 'name: Ada Rook\n',
  'content/lighthouse/a.yaml': `# the hours
hours:
  - { season: summer, opens: '09:00', guide: ada-rook, places: { adults: 12, label: { en: Few } } }
  - season: winter
    opens: '10:30'
`,
};
const trust = (more: Record<string, string> = {}) => workspace({ ...model, ...content, ...more });

describe('a nested object [C1]', () => {
  test('is checked field by field, with the place of each value', async () => {
    const folder = trust({
      'content/lighthouse/b.yaml': `hours:
  - { season: autumn, opens: '05:00', guide: nobody, places: { adults: 40, label: { it: X } } }
  - { opnes: '10:00' }
  - four
  - {}
`,
    });
    const found = (await result(folder, ['check'])).findings.map(
      (one: any) => `${one.line} ${one.pointer} ${one.finding}`,
    );
    expect(found).toEqual([
      '2 /hours too-many-items',
      '2 /hours/0/season unknown-term',
      '2 /hours/0/opens too-early',
      '2 /hours/0/guide dangling-reference',
      '2 /hours/0/places/adults too-large',
      '2 /hours/0/places/label/it unknown-language',
      '3 /hours/1/season required-missing',
      '3 /hours/1/opens required-missing',
      '3 /hours/1/opnes unknown-field',
      '4 /hours/2 wrong-shape',
      '5 /hours/3/season required-missing',
      '5 /hours/3/opens required-missing',
    ]);
  });

  test('its references and terms count like any other', async () => {
    expect((await result(trust(), ['trace', 'keeper/ada-rook'])).pointedAtBy.next).toMatchObject([
      { pointer: '/hours/0/guide', node: { entry: 'lighthouse/a' } },
    ]);
    const [season] = (await result(trust(), ['show'])).taxonomies;
    expect(season).toMatchObject({ uses: 2 });
  });

  test('show finds a field inside it by its address, with where it comes from', async () => {
    expect(await result(trust(), ['show', 'lighthouse.hours.opens'])).toMatchObject({
      field: { kind: 'time' },
      filled: 1,
    });
    expect((await result(trust(), ['show', 'clock'])).reaches).toEqual(['lighthouse.hours.opens']);
    expect((await lumbrik(trust(), ['show', 'lighthouse.hours.opnes'])).err).toContain('Did you mean `opens`?');
    expect((await lumbrik(trust(), ['show', 'keeper.name.first'])).err).toContain('has no fields inside it');
  });

  test.each([
    ['made of nothing', '{ kind: object, fields: {} }', /made of nothing/u],
    ['without fields', '{ kind: object }', /`fields` is missing/u],
    ['with a field of no kind', '{ kind: object, fields: { a: { max: 3 } } }', /says no kind/u],
    ['with a wrong option inside', '{ kind: object, fields: { a: { kind: text, mx: 3 } } }', /no option `mx`/u],
    [
      'with bounds that nothing passes inside',
      '{ kind: object, fields: { a: { kind: text, min: 3, max: 2 } } }',
      /no text could/u,
    ],
    [
      'with something computed inside',
      '{ kind: object, fields: { a: { kind: text, computed: "1" } } }',
      /means nothing inside/u,
    ],
    [
      'with a slug of nothing inside',
      '{ kind: object, fields: { a: { kind: slug, from: name } } }',
      /no field `name`/u,
    ],
    [
      'with a default that breaks it',
      '{ kind: object, fields: { a: { kind: integer } }, default: { a: x } }',
      /\/a is/u,
    ],
  ])('%s is a mistake in the model', async (_name, field, says) => {
    const mistakes = (await result(trust({ 'model/types/b.yaml': `type: b\nfields:\n  x: ${field}\n` }), ['check']))
      .mistakes;
    expect(mistakes).toMatchObject([{ file: 'model/types/b.yaml', line: 3, says: expect.stringMatching(says) }]);
  });

  test('what must differ inside it differs from item to item and from entry to entry; a slug is made from beside it', async () => {
    const folder = trust({
      'model/types/b.yaml':
        'type: b\nfields:\n  parts: { kind: object, many: true, fields: { name: { kind: text }, code: { kind: text, unique: true }, slug: { kind: slug, from: name } } }\n',
      'content/b/one.yaml': 'parts: [{ name: A, code: x, slug: a }, { name: B, code: y }]\n',
      'content/b/two.yaml': 'parts: [{ code: z }, { code: y, slug: a }, { code: z }]\n',
    });
    const { findings } = await result(folder, ['check']);
    expect(
      findings
        .filter(({ entry }: any) => entry?.startsWith('b/'))
        .map(({ finding, entry, pointer }: any) => `${finding} ${entry}${pointer}`)
        .sort(),
    ).toEqual(['not-unique b/two/parts/1/code', 'not-unique b/two/parts/1/slug', 'not-unique b/two/parts/2/code']);
  });

  test('rules see what stands in it', async () => {
    const rule =
      'rules:\n  - { expect: \'entry.hours.all(h, h.opens < "10:00")\', say: Open before ten., at: hours }\n';
    const folder = trust({ 'model/types/lighthouse.yaml': model['model/types/lighthouse.yaml'] + rule });
    expect((await result(folder, ['check'])).findings).toMatchObject([{ finding: 'rule-broken' }]);
  });
});

describe('a change inside an object [G1] [H4]', () => {
  const sealed = async () => {
    const folder = trust();
    await lumbrik(folder, ['seal', '-m', 'First']);
    return folder;
  };
  test.each<[string, string, string, string, string, string, number]>([
    ['a field that is gone', ', label: { kind: text, localized: true }', '', 'label', 'field removed', 'lose', 1],
    ['tighter', 'max: 20', 'max: 10', 'adults', 'max 20 → 10', 'migrate', 1],
    ['wider', 'max: 20', 'max: 30', 'adults', 'max 20 → 30', 'valid', 0],
    ['a field more', '{ adults:', '{ seats: { kind: text }, adults:', 'seats', 'new field, text', 'valid', 0],
    [
      'a field more that is required',
      '{ adults:',
      '{ seats: { kind: text, required: true }, adults:',
      'seats',
      'new field, text, required',
      'migrate',
      1,
    ],
    ['another kind', 'integer, max: 20', 'text', 'adults', 'integer → text', 'migrate', 0],
    ['another kind that takes little', 'integer, max: 20', 'date', 'adults', 'integer → date', 'lose', 1],
    ['another name', 'adults:', 'adultPlaces:', 'adults', 'renamed to adultPlaces', 'migrate', 1],
  ])('%s is said at its address, rated and counted', async (_name, from, to, field, says, entries, hits) => {
    const folder = await sealed();
    edit(folder, 'model/types/lighthouse.yaml', from, to);
    const { changes } = await result(folder, ['diff']);
    expect(changes).toHaveLength(1);
    expect(changes[0]).toMatchObject({ address: `lighthouse.hours.places.${field}`, says, entries });
    expect(changes[0].impact?.hits ?? 0).toBe(hits);
  });

  const before = {
    'model/types/light.yaml': `type: light
fields:
  name: { kind: text }
  hours: { kind: object, fields: { opens: { kind: time }, note: { kind: text }, places: { kind: integer } } }
  days: { kind: object, many: true, fields: { day: { kind: date }, steps: { kind: integer } } }
  about: { kind: object, localized: true, fields: { short: { kind: text }, long: { kind: longText } } }
  fee: { kind: integer, computed: { cel: entry.hours.places * 2 } }
rules:
  - { expect: 'entry.hours.places > 0 && entry.days[0].steps > 0', say: Never none. }
`,
    'lumbrik.yaml': 'workspace: Gannet Sound\nlanguages: [en, fr]\n',
    'content/light/a.yaml': `# a light
name: A
hours:
  # as a rule
  opens: '10:00' # in summer
  note: gone soon
  places: 3
days:
  - day: 2026-01-01
    steps: 20
  - { steps: 40, day: 2026-01-02 }
about: { en: { short: A light, long: Long }, fr: { short: Un phare } }
`,
    'content/light/b.json': '{\n  "name": "B",\n  "hours": { "note": "n" },\n  "days": [{ "steps": 3 }]\n}\n',
    'content/light/c.md': '---\nname: C\nhours: {}\n---\n',
  };
  const after = `type: light
fields:
  name: { kind: text }
  hours: { kind: object, fields: { from: { kind: time }, seats: { kind: text }, kind: { kind: choice, choices: [a, b], required: true } } }
  days: { kind: object, many: true, fields: { day: { kind: date }, stairs: { kind: integer, max: 25 } } }
  about: { kind: object, localized: true, fields: { brief: { kind: text }, long: { kind: longText } } }
  fee: { kind: integer, computed: { cel: size(entry.days) } }
rules:
  - { expect: 'entry.days[0].stairs > 0', say: Never none. }
`;

  test('is carried to every value: in lists, in languages, byte for byte beside it, and back', async () => {
    const folder = workspace(before);
    await lumbrik(folder, ['seal', '-m', 'First']);
    write(folder, { 'model/types/light.yaml': after });
    const draft = ['opens=from', 'places=seats'].flatMap((one) => ['--renamed', `light.hours.${one}`]);
    const { file } = await result(folder, [
      'migration',
      'draft',
      ...draft,
      '--renamed',
      'light.days.steps=stairs',
      '--renamed',
      'light.about.short=brief',
    ]);
    const text = read(folder, file)
      .replace(/^ {4}open: .*\n/gmu, '')
      .replace(/(add: light\.hours\.kind\n(?: {4}.*\n)*)/u, '$1    value: b\n')
      .replace(/(change: light\.days\.stairs\n(?: {4}.*\n)*)/u, '$1    cel: item.stairs - 15\n');
    write(folder, { [file]: text });
    const rehearsal = await result(folder, ['migration', 'rehearse']);
    expect(rehearsal).toMatchObject({ ok: true, errorsAfter: 0 });
    expect(rehearsal.lost.map(({ entry, pointer, value, becomes }: any) => [entry, pointer, value, becomes])).toEqual([
      ['light/a', '/days/1/stairs', 40, 25],
      ['light/a', '/hours/note', 'gone soon', undefined],
      ['light/b', '/hours/note', 'n', undefined],
    ]);
    expect(await result(folder, ['migration', 'run'])).toMatchObject({ code: 0, files: 3 });
    expect(read(folder, 'content/light/a.yaml')).toBe(`# a light
name: A
hours:
  # as a rule
  from: '10:00' # in summer
  seats: "3"
  kind: b
days:
  - day: 2026-01-01
    stairs: 20
  - { stairs: 25, day: 2026-01-02 }
about: { en: { brief: A light, long: Long }, fr: { brief: Un phare } }
`);
    expect(read(folder, 'content/light/b.json')).toBe(
      '{\n  "name": "B",\n  "hours": { "kind": "b" },\n  "days": [{ "stairs": 3 }]\n}\n',
    );
    expect(read(folder, 'content/light/c.md')).toBe('---\nname: C\nhours: { kind: b }\n---\n');
    expect((await result(folder, ['migration', 'undo'])).code).toBe(0);
    for (const name of Object.keys(before).filter((one) => one.startsWith('content/')))
      expect(read(folder, name)).toBe(before[name as keyof typeof before]);
  });

  test('is computed from the object that it stands in, and where a condition on that holds', async () => {
    const folder = workspace(before);
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'model/types/light.yaml', 'steps: { kind: integer }', 'steps: { kind: integer, max: 90 }');
    const { file } = await result(folder, ['migration', 'draft']);
    expect(read(folder, file)).toContain('change: light.days.steps');
    const set = (fill: string) => `\n  - set: light.days.steps\n${fill.replace(/^/gmu, '    ')}\n`;
    const drafted = read(folder, file);
    for (const [fill, says] of [
      ['cel: item.stps', 'there is no field `stps`'],
      ['cel: item.day', 'gives string'],
      ['cel: "1"\nwhere: item.steps', '`where` gives int'],
    ] as const) {
      write(folder, { [file]: drafted + set(fill) });
      expect((await result(folder, ['migration', 'rehearse'])).error?.says).toContain(says);
    }
    write(folder, {
      [file]: drafted + set('cel: item.steps * 2 + size(entry.name)\nwhere: has(item.day) && item.steps > 20'),
    });
    expect((await lumbrik(folder, ['migration', 'rehearse'])).code).toBe(0);
    expect((await lumbrik(folder, ['migration', 'run'])).code).toBe(0);
    expect(read(folder, 'content/light/a.yaml')).toBe(before['content/light/a.yaml'].replace('steps: 40', 'steps: 81'));
    expect(read(folder, 'content/light/b.json')).toBe(before['content/light/b.json']);
  });

  test('a name that is not there, or taken, is refused at its step', async () => {
    const folder = workspace(before);
    await lumbrik(folder, ['seal', '-m', 'First']);
    const head = /^(?:#.*\n)*((?:migration|about|from|to): .*\n)+/mu;
    edit(folder, 'model/types/light.yaml', 'opens:', 'from:');
    const { file } = await result(folder, ['migration', 'draft', '--renamed', 'light.hours.opens=from']);
    for (const [step, says] of [
      ['rename: light.hours.opnes\n    to: from', 'there is no field `hours.opnes`'],
      ['rename: light.hours.opens\n    to: note', 'there is a field `note` already'],
      ['drop: light.hours.opens.x', 'there is no field `light.hours.opens.x`'],
      ['add: light.name.first\n    field: { kind: text }', 'has no fields inside it'],
      ['add: light.hours.note\n    field: { kind: text }', 'exists already'],
    ] as const) {
      const [start] = head.exec(read(folder, file)) ?? [''];
      write(folder, { [file]: `${start}steps:\n  - ${step}\n` });
      expect((await result(folder, ['migration', 'rehearse'])).error?.says).toContain(says);
    }
  });

  test.each<[string, string, readonly string[]]>([
    ['is taken out, and told', '', ['/seasons', '/tide/en/of', '/when/1/also', '/when/0/of']],
    ['gives way to another', '    use: winter\n', []],
  ])('a term that is dropped %s, in every list, language and object', async (_name, use, lost) => {
    const folder = workspace({
      'lumbrik.yaml': before['lumbrik.yaml'],
      'model/taxonomies/season.yaml': 'taxonomy: season\nterms: [spring, summer, winter]\n',
      'model/types/light.yaml': `type: light
fields:
  seasons: { kind: term, taxonomy: season, many: true }
  tide: { kind: object, localized: true, fields: { of: { kind: term, taxonomy: season }, note: { kind: text } } }
  when: { kind: object, many: true, fields: { of: { kind: term, taxonomy: season }, also: { kind: term, taxonomy: season, many: true } } }
`,
      'content/light/a.yaml': `seasons: [summer, winter]
tide: { en: { of: summer, note: High }, fr: { of: winter } }
when:
  - { of: summer, also: [spring] } # one
  - of: spring
    also: [summer]
`,
    });
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'model/taxonomies/season.yaml', ', summer', '');
    const { file } = await result(folder, ['migration', 'draft']);
    write(folder, { [file]: read(folder, file).replace(/^ {4}open: .*\n/gmu, use) });
    const rehearsal = await result(folder, ['migration', 'rehearse']);
    expect(rehearsal).toMatchObject({ code: 0, errorsAfter: 0 });
    const isGone = ({ becomes }: any): boolean => becomes === undefined;
    expect(rehearsal.lost.filter(isGone).map(({ pointer }: any) => pointer)).toEqual(lost);
    // What gives way to another is named as replaced.
    if (use !== '') expect(rehearsal.lost.map(({ becomes }: any) => becomes)).toEqual(Array(4).fill('winter'));
    expect((await lumbrik(folder, ['migration', 'run'])).code).toBe(0);
    expect(read(folder, 'content/light/a.yaml')).toBe(
      use === ''
        ? `seasons: [winter]
tide: { en: { note: High }, fr: { of: winter } }
when:
  - { also: [spring] } # one
  - of: spring
`
        : `seasons: [winter]
tide: { en: { of: winter, note: High }, fr: { of: winter } }
when:
  - { of: winter, also: [spring] } # one
  - of: spring
    also: [winter]
`,
    );
  });

  test('a choice inside it that gets another name is recognised, and every value follows', async () => {
    const folder = workspace({
      'model/types/light.yaml':
        'type: light\nfields:\n  hours: { kind: object, many: true, fields: { of: { kind: choice, many: true, choices: [summer, winter] } } }\n',
      'content/light/a.yaml': 'hours:\n  - of: [summer, winter] # both\n  - { of: [winter] }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'model/types/light.yaml', 'winter]', 'winter-time]');
    expect((await result(folder, ['diff'])).changes).toMatchObject([
      { address: 'light.hours.of:winter', says: 'renamed to winter-time', impact: { hits: 1 } },
    ]);
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'light.hours.of:winter=winter-time']);
    expect(await result(folder, ['migration', 'rehearse'])).toMatchObject({ code: 0, errorsAfter: 0, lost: [] });
    expect((await lumbrik(folder, ['migration', 'run'])).code).toBe(0);
    expect(read(folder, 'content/light/a.yaml')).toBe(
      'hours:\n  - of: [summer, winter-time] # both\n  - { of: [winter-time] }\n',
    );
  });

  test('a language and a term of the surroundings that are gone are counted inside it, and taken out', async () => {
    const folder = workspace({
      'lumbrik.yaml': before['lumbrik.yaml'],
      'model/taxonomies/season.yaml': 'taxonomy: season\nopen: true\nterms: [spring]\n',
      'model/types/light.yaml': `type: light
fields:
  hours: { kind: object, many: true, fields: { label: { kind: text, localized: true }, of: { kind: term, taxonomy: season } } }
`,
      'content/light/a.yaml': `hours:
  - { label: { en: Day, fr: Jour }, of: spring }
  - label:
      fr: Nuit # dark
    of: fall
`,
      'content/light/b.yaml': 'hours:\n  - { label: { en: Day } }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'lumbrik.yaml', '[en, fr]', '[en]');
    edit(folder, 'model/taxonomies/season.yaml', 'open: true\n', '');
    expect((await result(folder, ['diff'])).changes).toMatchObject([
      { address: 'languages', entries: 'lose', impact: { hits: 1, of: 2 } },
      { address: 'season:', entries: 'migrate', impact: { hits: 1, of: 2 } },
    ]);
    const { file } = await result(folder, ['migration', 'draft']);
    write(folder, { [file]: read(folder, file).replace(/^ {4}open: .*\n/gmu, '') });
    expect((await result(folder, ['migration', 'rehearse'])).lost).toMatchObject([
      { pointer: '/hours/0/label/fr', value: 'Jour' },
      { pointer: '/hours/1/label/fr', value: 'Nuit' },
    ]);
    expect((await lumbrik(folder, ['migration', 'run'])).code).toBe(0);
    expect(read(folder, 'content/light/a.yaml')).toBe(`hours:
  - { label: { en: Day }, of: spring }
  - label: {}
    of: fall
`);
  });

  test('a term and a type that get another name take the values inside along, and back', async () => {
    const folder = await sealed();
    const before = read(folder, 'content/lighthouse/a.yaml');
    edit(folder, 'model/taxonomies/season.yaml', 'summer', 'summer-time');
    const { file } = await result(folder, ['migration', 'draft', '--renamed', 'season:summer=summer-time']);
    expect(read(folder, file)).toContain('rename: season:summer');
    expect((await lumbrik(folder, ['migration', 'rehearse'])).code).toBe(0);
    expect((await lumbrik(folder, ['migration', 'run'])).code).toBe(0);
    expect(read(folder, 'content/lighthouse/a.yaml')).toBe(before.replace('season: summer', 'season: summer-time'));
    expect((await lumbrik(folder, ['migration', 'undo'])).code).toBe(0);
    expect(read(folder, 'content/lighthouse/a.yaml')).toBe(before);
  });
});
