import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, result, workspace, write } from './support/program.ts';

/** A trust whose types share a kit, a base type, a definition of a field and a kind of their own. */
const shared = {
  'model/kits/sharing.yaml': `
kit: sharing
about: The facts that describe a page to search engines.
groups: [Sharing]
fields:
  shareTitle: { kind: text, max: 60, group: Sharing }
  shareText: { kind: longText, max: 160, group: Sharing }
rules:
  - { expect: 'entry.shareTitle != entry.shareText', say: Say two different things., at: shareText }
`,
  'model/fields/contactPhone.yaml':
    "field: contactPhone\nkind: text\npattern: { match: '^\\+', say: Start with + and the country. }\nhelp: With the country.\n",
  'model/kinds/price.yaml':
    'kind: price\non: decimal\nabout: What something costs.\noptions: { unit: EUR, places: 2, min: 0 }\n',
  'model/types/place.yaml': `
type: place
titled: name
groups: [Place]
fields:
  name: { kind: text, max: 80, required: true }
  position: { kind: point, group: Place }
`,
  'model/types/lighthouse.yaml': `
type: lighthouse
extends: place
kits: [sharing]
fields:
  focalHeight: { kind: decimal, unit: m }
  shareTitle: { max: 40 }
  phone: { use: contactPhone, required: true }
`,
  'model/types/tour.yaml': `
type: tour
kits: [sharing]
fields:
  name: { kind: text }
  cost: { kind: price, required: published }
  start: { kind: reference, to: place }
`,
};
const trust = (more: Record<string, string> = {}) => workspace({ ...shared, ...more });
const mistakesOf = async (more: Record<string, string>) => (await result(trust(more), ['check'])).mistakes;

describe('kits, definitions of a field and kinds kept once [C9] [C10] [B9]', () => {
  test('a type has the fields of its base type, its own, and those of its kits, and show says where each is from', async () => {
    const { fields, groups, titled, kits, extends: base, rules } = await result(trust(), ['show', 'lighthouse']);
    expect(fields.map(({ name, from }: any) => [name, from.map(({ what, name: of }: any) => `${what} ${of}`)])).toEqual(
      [
        ['name', ['type place']],
        ['position', ['type place']],
        ['focalHeight', []],
        ['shareTitle', ['kit sharing']],
        ['phone', ['field contactPhone']],
        ['shareText', ['kit sharing']],
      ],
    );
    expect([groups, titled, kits, base]).toEqual([['Place', 'Sharing'], 'name', ['sharing'], 'place']);
    expect(rules).toMatchObject([{ at: 'shareText' }]);
    expect((await lumbrik(trust(), ['show', 'lighthouse'])).out).toMatch(
      /shareTitle +text .*kit sharing +≤ 40 characters/u,
    );
  });

  test('show says of everything shared where it goes', async () => {
    const folder = trust();
    expect(await result(folder, ['show', 'sharing'])).toMatchObject({
      part: 'kit',
      reaches: ['lighthouse.shareTitle', 'lighthouse.shareText', 'tour.shareTitle', 'tour.shareText'],
    });
    expect(await result(folder, ['show', 'contactPhone'])).toMatchObject({
      part: 'field',
      reaches: ['lighthouse.phone'],
    });
    expect(await result(folder, ['show', 'price'])).toMatchObject({
      part: 'kind',
      on: 'decimal',
      reaches: ['tour.cost'],
    });
    expect((await result(folder, ['show'])).kits).toEqual([
      expect.objectContaining({ name: 'sharing', fields: 2, usedBy: ['lighthouse', 'tour'] }),
    ]);
    expect((await lumbrik(folder, ['show', 'price'])).out).toContain('Fixes  min 0, unit EUR, places 2');
  });

  test('entries are held to what arrives from elsewhere, narrowed where the type narrows it', async () => {
    const folder = trust({
      'content/lighthouse/skerry-point.yaml': `name: Skerry Point\nphone: 0491\nshareTitle: ${'a'.repeat(50)}\nshareText: b\n`,
      'content/tour/short.yaml': `cost: -1.005\nshareTitle: ${'a'.repeat(50)}\nshareText: ${'a'.repeat(50)}\nstart: lighthouse/skerry-point\n`,
    });
    const found = (await result(folder, ['check'])).findings.map(({ entry, pointer, finding }: any) =>
      [entry, pointer, finding].join(' '),
    );
    expect(found).toEqual([
      'lighthouse/skerry-point /phone wrong-shape',
      'lighthouse/skerry-point /shareTitle too-long',
      'tour/short /cost too-many-places',
      'tour/short /cost too-small',
      'tour/short /shareText rule-broken',
    ]);
  });

  test('a type stands wherever the type that it extends is accepted, and no other does', async () => {
    const folder = trust({
      'content/place/pier.yaml': 'name: Pier\n',
      'content/lighthouse/skerry-point.yaml': 'name: Skerry Point\nphone: "+49"\n',
      'content/tour/a.yaml': 'cost: 1\nstart: lighthouse/skerry-point\n',
      'content/tour/b.yaml': 'cost: 1\nstart: pier\n',
      'content/tour/c.yaml': 'cost: 1\nstart: tour/a\n',
    });
    expect((await result(folder, ['check'])).findings).toMatchObject([{ finding: 'wrong-target', entry: 'tour/c' }]);
    expect((await result(folder, ['show', 'lighthouse'])).inverses).toEqual([{ field: 'tour.start' }]);
  });

  test.each<[string, Record<string, string>, Record<string, unknown>]>([
    [
      'a use that lets more pass',
      { 'model/types/a.yaml': 'type: a\nkits: [sharing]\nfields:\n  shareTitle: { max: 90 }\n' },
      { file: 'model/types/a.yaml', line: 4, says: expect.stringContaining('lets more pass than the kit sharing') },
    ],
    [
      'a field of a kit with a kind of its own',
      { 'model/types/a.yaml': 'type: a\nkits: [sharing]\nfields:\n  shareTitle: { kind: text }\n' },
      { says: 'the field is defined in the kit sharing already' },
    ],
    [
      'one value made many',
      { 'model/types/a.yaml': 'type: a\nfields:\n  phone: { use: contactPhone, many: true }\n' },
      { says: expect.stringContaining('`many` lets more pass') },
    ],
    [
      'what a kind has fixed',
      { 'model/types/a.yaml': 'type: a\nfields:\n  cost: { kind: price, unit: USD }\n' },
      { says: '`unit` is fixed by the kind price', mend: expect.stringContaining('decimal') },
    ],
    [
      'a kit that is not there',
      { 'model/types/a.yaml': 'type: a\nkits: [sharin]\n' },
      { mend: 'Did you mean `sharing`?' },
    ],
    [
      'a base that is not there',
      { 'model/types/a.yaml': 'type: a\nextends: plaice\n' },
      { mend: 'Did you mean `place`?' },
    ],
    [
      'a shared field that is not there',
      { 'model/types/a.yaml': 'type: a\nfields:\n  phone: { use: contactPhon }\n' },
      { line: 3, mend: 'Did you mean `contactPhone`?' },
    ],
    [
      'types that extend each other',
      { 'model/types/a.yaml': 'type: a\nextends: b\n', 'model/types/b.yaml': 'type: b\nextends: a\n' },
      { says: expect.stringContaining('extends itself') },
    ],
    [
      'two kits with the same field',
      {
        'model/kits/other.yaml': 'kit: other\nfields: { shareText: { kind: text } }\n',
        'model/types/a.yaml': 'type: a\nkits: [sharing, other]\n',
      },
      { says: expect.stringContaining('arrives by the kit sharing and by the kit other') },
    ],
    [
      'a kind built on nothing',
      { 'model/kinds/x.yaml': 'kind: x\non: decimel\n' },
      { mend: 'Did you mean `decimal`?' },
    ],
    ['a kind with the name of another', { 'model/kinds/x.yaml': 'kind: text\non: decimal\n' }, { line: 1 }],
    [
      'a mistake in the options of a kind',
      { 'model/kinds/x.yaml': 'kind: x\non: decimal\noptions: { places: two }\n' },
      { file: 'model/kinds/x.yaml', line: 3 },
    ],
  ])('%s is a mistake with its place', async (_name, files, mistake) => {
    expect(await mistakesOf(files)).toContainEqual(expect.objectContaining(mistake));
  });

  test('a mistake in a kit is said once, in the file of the kit, whoever uses it', async () => {
    const broken = { 'model/kits/sharing.yaml': "kit: sharing\nfields:\n  shareTitle: { kind: text, pattern: '(' }\n" };
    const files = Object.fromEntries(
      Object.entries({ ...shared, ...broken }).filter(([name]) => !name.includes('lighthouse')),
    );
    const used = (await result(workspace({ ...files, 'model/types/a.yaml': 'type: a\nkits: [sharing]\n' }), ['check']))
      .mistakes;
    const unused = (await result(workspace(broken), ['check'])).mistakes;
    for (const mistakes of [used, unused])
      expect(mistakes).toMatchObject([
        { file: 'model/kits/sharing.yaml', line: 3, says: expect.stringContaining('no regular') },
      ]);
  });
});

describe('a change of something shared [G5] [H4]', () => {
  const sealed = async () => {
    const folder = trust({
      'content/lighthouse/skerry-point.yaml': 'name: Skerry Point\nphone: "+49"\nshareTitle: Short\n',
      'content/tour/short.yaml': `cost: 1\nshareTitle: ${'a'.repeat(50)}\n`,
    });
    expect((await lumbrik(folder, ['seal', '-m', 'The first model'])).code).toBe(0);
    return folder;
  };

  test('is shown once where it was made, with every field that it arrives at', async () => {
    const folder = await sealed();
    edit(folder, 'model/kits/sharing.yaml', 'max: 60', 'max: 30');
    edit(folder, 'model/types/lighthouse.yaml', '  shareTitle: { max: 40 }\n', '');
    edit(
      folder,
      'model/kits/sharing.yaml',
      'shareText: { kind: longText, max: 160',
      'shareText: { kind: longText, max: 150',
    );
    const { changes } = await result(folder, ['diff']);
    expect(changes.filter(({ address }: any) => address === 'sharing.shareText')).toMatchObject([
      { address: 'sharing.shareText', says: 'max 160 → 150', arrives: ['lighthouse.shareText', 'tour.shareText'] },
    ]);
    expect(changes).toContainEqual(
      expect.objectContaining({
        address: 'sharing.shareTitle',
        arrives: ['tour.shareTitle'],
        impact: expect.objectContaining({ hits: 1 }),
      }),
    );
    expect((await lumbrik(folder, ['diff'])).out).toContain('arrives at lighthouse.shareText, tour.shareText');
  });

  test('inside an object is shown once too, wherever the object comes from', async () => {
    const object = '{ kind: object, fields: { opens: { kind: time }, seats: { kind: integer, max: 9 } } }';
    const folder = workspace({
      'model/kits/visit.yaml': `kit: visit\nfields:\n  hours: ${object}\n`,
      'model/fields/room.yaml': `field: room\n${object.slice(2, -2).replaceAll(/, (?=fields)/gu, '\n')}\n`,
      'model/types/hut.yaml': 'type: hut\nkits: [visit]\nfields:\n  upstairs: { use: room }\n',
      'model/types/mill.yaml': 'type: mill\nkits: [visit]\nfields:\n  name: { kind: text }\n',
      'content/hut/a.yaml': 'hours: { seats: 8 }\nupstairs: { seats: 7 }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'model/kits/visit.yaml', 'max: 9', 'max: 5');
    edit(folder, 'model/fields/room.yaml', 'opens', 'from');
    const { changes } = await result(folder, ['diff', '--renamed', 'hut.upstairs.opens=from']);
    expect(changes).toMatchObject([
      { address: 'room.opens', says: 'renamed to from', arrives: ['hut.upstairs.opens'] },
      { address: 'visit.hours.seats', says: 'max 9 → 5', arrives: ['hut.hours.seats', 'mill.hours.seats'] },
    ]);
    expect(changes[1].impact).toMatchObject({ hits: 1 });
  });

  test.each<[string, (folder: string) => void]>([
    ['a tighter kit', (folder) => edit(folder, 'model/kits/sharing.yaml', 'max: 160', 'max: 150')],
    ['a type that leaves its base', (folder) => edit(folder, 'model/types/lighthouse.yaml', 'extends: place\n', '')],
    ['a type that leaves a kit', (folder) => edit(folder, 'model/types/tour.yaml', 'kits: [sharing]\n', '')],
    ['a kind with other options', (folder) => edit(folder, 'model/kinds/price.yaml', 'places: 2', 'places: 3')],
    ['another shared field', (folder) => edit(folder, 'model/fields/contactPhone.yaml', 'With the', 'With its')],
  ])('%s is drafted, proven, run and taken back', async (_name, change) => {
    const folder = await sealed();
    const before = read(folder, 'content/tour/short.yaml');
    change(folder);
    const { file } = await result(folder, ['migration', 'draft']);
    const text = read(folder, file).replaceAll(/^ +open: .*\n/gmu, '');
    write(folder, { [file]: text });
    expect(text).toContain('change: shared');
    expect((await lumbrik(folder, ['migration', 'rehearse'])).err).toBe('');
    expect(await lumbrik(folder, ['migration', 'run'])).toMatchObject({ code: 0 });
    expect(await lumbrik(folder, ['seal', '-m', 'Changed'])).toMatchObject({ code: 0 });
    expect(await lumbrik(folder, ['migration', 'undo'])).toMatchObject({ code: 0 });
    expect(read(folder, 'content/tour/short.yaml')).toBe(before);
  });

  test('pulling fields out into a kit changes no entry', async () => {
    const folder = await sealed();
    edit(folder, 'model/types/tour.yaml', '  name: { kind: text }\n', '');
    edit(folder, 'model/types/tour.yaml', '[sharing]', '[sharing, named]');
    edit(folder, 'model/types/tour.yaml', 'type: tour', 'type: tour\norder: [name]');
    write(folder, { 'model/kits/named.yaml': 'kit: named\nfields: { name: { kind: text } }\n' });
    const { changes, entries, readers } = await result(folder, ['diff']);
    expect([entries, readers]).toEqual(['valid', 'unaffected']);
    expect(changes.map(({ address, says }: any) => `${address} ${says}`)).toEqual([
      'named new kit',
      'tour kits + named',
      'tour order + name',
    ]);
  });
});
