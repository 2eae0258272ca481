import { describe, expect, test } from 'vitest';
import { edit, type Files, lumbrik, read, result, workspace, write } from './support/program.ts';

/** Places whose addresses are a kit that has another kit in it: in a type, in objects, in a list and in a map. */
const places = {
  'model/kits/geo.yaml': `
kit: geo
groups: [Where]
fields:
  lat: { kind: decimal, min: -90, max: 90, group: Where }
  lon: { kind: decimal, min: -180, max: 180, group: Where }
`,
  'model/kits/address.yaml': `
kit: address
kits: [geo]
fields:
  street: { kind: text, max: 40, required: true }
  mail: { use: mail }
  lat: { min: 0 }
`,
  'model/fields/mail.yaml': 'field: mail\nkind: email\n',
  'model/types/house.yaml': 'type: house\nkits: [address]\n',
  'model/types/place.yaml': `
type: place
titled: name
fields:
  name: { kind: text, required: true }
  at: { kind: object, kits: [address], fields: { floor: { kind: integer }, street: { max: 20 } } }
  others: { kind: object, kits: [address], many: true }
  byName: { kind: map, keys: { kind: text }, value: { kind: object, kits: [geo] } }
`,
  'content/place/a.yaml': `name: A
at: { street: Harbour, lat: 3, floor: 2 } # by the sea
others: [{ street: Store, lat: 8, lon: 3 }]
byName: { x: { lat: 20 } }
`,
};
const trust = (more: Files = {}) => workspace({ ...places, ...more });

describe('kits inside kits and inside objects [C9]', () => {
  test('show says where each field is from, at any depth', async () => {
    const from = async (address: string) => {
      const { fields, inside } = await result(trust(), ['show', address]);
      return (fields ?? inside).map((one: any) => [
        one.name,
        one.from.map(({ what, name }: any) => `${what} ${name}`).join(', '),
      ]);
    };
    expect(await from('house')).toEqual([
      ['street', 'kit address'],
      ['mail', 'kit address, field mail'],
      ['lat', 'kit address, kit geo'],
      ['lon', 'kit address, kit geo'],
    ]);
    expect(await from('place.at')).toEqual([
      ['at.floor', ''],
      ['at.street', 'kit address'],
      ['at.mail', 'kit address, field mail'],
      ['at.lat', 'kit address, kit geo'],
      ['at.lon', 'kit address, kit geo'],
    ]);
    const { reaches } = await result(trust(), ['show', 'geo']);
    expect(reaches).toEqual([
      ...['house.lat', 'house.lon', 'place.at.lat', 'place.at.lon', 'place.others.lat', 'place.others.lon'],
      ...['place.byName.value.lat', 'place.byName.value.lon'],
    ]);
    expect((await result(trust(), ['show', 'house'])).groups).toEqual(['Where']);
  });

  test('entries are held to the narrowest of what is said', async () => {
    const folder = trust({
      'content/place/a.yaml': `name: A
at: { street: ${'s'.repeat(21)}, lat: -3 }
others: [{ lat: 91, mail: nobody }]
byName: { x: { lat: -91 } }
`,
    });
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ pointer, finding }: any) => `${pointer} ${finding}`).sort()).toEqual([
      '/at/lat too-small',
      '/at/street too-long',
      '/byName/x/lat too-small',
      '/others/0/lat too-large',
      '/others/0/mail not-an-email',
      '/others/0/street required-missing',
    ]);
  });

  test.each<[string, (folder: string) => void, Record<string, unknown>]>([
    [
      'a kit that has itself',
      (folder) => edit(folder, 'model/kits/address.yaml', '[geo]', '[geo, address]'),
      { file: 'model/kits/address.yaml', line: 3, says: 'the kit address is made of itself' },
    ],
    [
      'kits that have each other',
      (folder) => edit(folder, 'model/kits/geo.yaml', 'groups:', 'kits: [address]\ngroups:'),
      { file: 'model/kits/geo.yaml', says: 'the kit address is made of itself' },
    ],
    [
      'an object in a kit that has the kit',
      (folder) => edit(folder, 'model/kits/geo.yaml', 'fields:', 'fields:\n  in: { kind: object, kits: [geo] }'),
      { file: 'model/kits/geo.yaml', line: 5, says: 'the kit geo is made of itself' },
    ],
    [
      'a shared field with a kit that has the field',
      (folder) => write(folder, { 'model/fields/mail.yaml': 'field: mail\nkind: object\nkits: [address]\n' }),
      { says: 'the shared field mail is made of itself, by way of a kit' },
    ],
    [
      'a kit that is not there',
      (folder) =>
        edit(
          folder,
          'model/types/place.yaml',
          'others: { kind: object, kits: [address]',
          'others: { kind: object, kits: [adress]',
        ),
      { line: 7, mend: 'Did you mean `address`?' },
    ],
    [
      'kits that are no list',
      (folder) => edit(folder, 'model/types/place.yaml', 'kits: [address], fields', 'kits: address, fields'),
      { line: 6, mend: 'Write `kits: [address]`.' },
    ],
    [
      'a use inside an object that lets more pass',
      (folder) => edit(folder, 'model/types/place.yaml', 'max: 20', 'max: 80'),
      { file: 'model/types/place.yaml', says: '`max` lets more pass than the kit address (40 there)' },
    ],
    [
      'two kits with the same field in one object',
      (folder) => edit(folder, 'model/types/place.yaml', '[address], many', '[address, geo], many'),
      { says: 'the field `lat` arrives by the kit address and by the kit geo' },
    ],
    [
      'a kit with rules inside an object',
      (folder) =>
        edit(folder, 'model/kits/geo.yaml', 'fields:', 'rules: [{ expect: entry.lat > 1.0, say: No. }]\nfields:'),
      { line: 8, says: 'the kit geo has rules, which hold in types and not inside objects' },
    ],
    [
      'a kind with kits',
      (folder) => write(folder, { 'model/kinds/spot.yaml': 'kind: spot\non: object\noptions: { kits: [geo] }\n' }),
      { line: 3, says: 'a kind of its own cannot have kits' },
    ],
    [
      'kits put on a shared field where it is used',
      (folder) => {
        write(folder, { 'model/fields/mail.yaml': 'field: mail\nkind: object\nfields: { at: { kind: email } }\n' });
        edit(folder, 'model/kits/address.yaml', 'use: mail', 'use: mail, kits: [geo]');
      },
      { says: 'the fields of the object are defined in the shared field mail already' },
    ],
    [
      'a mistake in a field of a kit',
      (folder) => edit(folder, 'model/kits/address.yaml', 'min: 0', 'min: 0, default: -4'),
      { file: 'model/kits/address.yaml', line: 7 },
    ],
    [
      'an object of no fields and no kits',
      (folder) => edit(folder, 'model/types/place.yaml', 'kits: [address], many', 'kits: [], many'),
      { line: 7, says: 'it is made of nothing' },
    ],
  ])('%s is a mistake with its place, said once', async (_name, change, mistake) => {
    const folder = trust();
    change(folder);
    const { mistakes } = await result(folder, ['check']);
    const same = mistakes.filter(({ says }: any) => says === mistake.says);
    expect(mistakes).toContainEqual(expect.objectContaining(mistake));
    expect(same.length).toBeLessThan(2);
  });

  test('what changes in a kit is said once with every place that it arrives at, and what is narrowed there at the place', async () => {
    const folder = trust();
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/kits/address.yaml', 'max: 40', 'max: 3');
    edit(folder, 'model/types/place.yaml', 'max: 20', 'max: 2');
    edit(folder, 'model/kits/geo.yaml', 'lon:', 'lng:');
    const { changes } = await result(folder, ['diff']);
    expect(changes.map(({ address, says, arrives }: any) => [address, says, arrives])).toEqual([
      ['geo.lon', 'renamed to lng', ['house.lon', 'place.at.lon', 'place.others.lon']],
      ['place', 'other shared definitions in use', undefined],
      ['address.street', 'max 40 → 3', ['house.street', 'place.others.street']],
      ['place.at.street', 'max 20 → 2', undefined],
      ['place.byName', expect.stringContaining('value'), undefined],
    ]);
  });

  test('pulling fields of an object out into a kit changes no entry; a change of the kit migrates them and goes back', async () => {
    const folder = trust();
    edit(
      folder,
      'model/types/place.yaml',
      'kits: [address], many',
      'fields: { street: { kind: text, max: 40, required: true }, mail: { use: mail }, lat: { kind: decimal, min: 0, max: 90 }, lon: { kind: decimal, min: -180, max: 180 } }, many',
    );
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { 'model/types/place.yaml': places['model/types/place.yaml'] });
    expect(await result(folder, ['diff'])).toMatchObject({ entries: 'valid', readers: 'unaffected' });
    expect((await lumbrik(folder, ['seal', '-m', 'two'])).code).toBe(0);

    const before = read(folder, 'content/place/a.yaml');
    edit(folder, 'model/kits/geo.yaml', 'lon:', 'longitude:');
    const { file, steps } = await result(folder, ['migration', 'draft']);
    expect(steps.filter(({ open }: any) => open !== undefined)).toHaveLength(1);
    write(folder, { [file]: read(folder, file).replaceAll(/^ +open: .*\n/gmu, '') });
    expect((await lumbrik(folder, ['migration', 'rehearse'])).err).toBe('');
    expect(await lumbrik(folder, ['migration', 'run'])).toMatchObject({ code: 0 });
    expect(read(folder, 'content/place/a.yaml')).toBe(before.replace('lon: 3', 'longitude: 3'));
    expect((await result(folder, ['check'])).code).toBe(0);
    await lumbrik(folder, ['migration', 'undo']);
    expect(read(folder, 'content/place/a.yaml')).toBe(before);
  });
});
