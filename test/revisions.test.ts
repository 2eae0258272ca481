import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { coast, edit, lumbrik, read, result, snapshot, write } from './support/program.ts';

const region = 'model/taxonomies/region.yaml';
const light = 'model/types/lighthouse.yaml';
const departure = 'model/types/departure.yaml';

describe('lumbrik seal [A3, G3]', () => {
  test('records the model in canonical form, chained to the revision before', async () => {
    const folder = coast();
    const first = await result(folder, ['seal', '-m', 'The first model']);
    expect(first).toMatchObject({
      code: 0,
      revision: 1,
      version: '1.0.0',
      date: '2026-03-01T00:00:00Z',
      message: 'The first model',
      file: 'revisions/0001.json',
      changes: [],
    });
    edit(folder, light, 'about: A light', 'about: Any light');
    const second = await result(folder, ['seal', '-m', 'Said better']);
    const recorded = JSON.parse(read(folder, 'revisions/0002.json'));
    expect(recorded).toMatchObject({ revision: 2, version: '1.0.1', previous: first.hash, hash: second.hash });
    expect(read(folder, 'content/revision.yaml')).toContain((await result(folder, ['history'])).revisions[0].model);
  });

  test('comments, order of keys and layout are no change', async () => {
    const folder = coast();
    await lumbrik(folder, ['seal', '-m', 'one']);
    const lines = read(folder, departure).split('\n');
    const fields = lines.findIndex((line) => line.startsWith('fields:'));
    const turned = [
      ...lines.slice(0, fields + 1),
      ...lines
        .slice(fields + 1)
        .reverse()
        .filter(Boolean),
      '# the end',
      '',
    ];
    write(folder, {
      [departure]: turned.join('\n'),
      'model/everything/keeper.json': JSON.stringify({
        fields: { ...(await keeperFields(folder)) },
        about: aboutKeeper,
        label: { many: 'Keepers', one: 'Keeper' },
        titled: 'name',
        type: 'keeper',
      }),
    });
    fs.rmSync(path.join(folder, 'model/types/keeper.yaml'));
    expect((await result(folder, ['diff'])).changes).toEqual([]);
    expect(await lumbrik(folder, ['seal', '-m', 'two'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('Nothing changed since revision 1'),
    });
  });

  test.each<[string, (folder: string) => void, string]>([
    ['a label', (folder) => edit(folder, light, 'en: Lighthouses', 'en: Lights'), '1.0.1'],
    ['a help text', (folder) => edit(folder, light, 'In nautical miles.', 'Nautical miles.'), '1.0.1'],
    ['a default for new entries [B5]', (folder) => edit(folder, light, 'default: true', 'default: false'), '1.0.1'],
    [
      'a new optional field',
      (folder) => edit(folder, light, 'fields:\n', 'fields:\n  note: { kind: text }\n'),
      '1.1.0',
    ],
    ['a wider limit', (folder) => edit(folder, light, 'max: 60', 'max: 90'), '1.1.0'],
    ['a tighter limit', (folder) => edit(folder, light, 'max: 60', 'max: 40'), '1.1.0'],
    ['a new term', (folder) => edit(folder, region, '  - term: sound', '  - term: west\n  - term: sound'), '1.1.0'],
    ['a field that is gone', (folder) => edit(folder, light, / {2}steps:.*\n/u, ''), '2.0.0'],
    ['another unit', (folder) => edit(folder, light, 'unit: m', 'unit: ft'), '2.0.0'],
    [
      'another kind',
      (folder) => edit(folder, light, 'range:     { kind: integer', 'range:     { kind: decimal'),
      '2.0.0',
    ],
    ['one target more', (folder) => edit(folder, light, 'to: keeper', 'to: [keeper, departure]'), '2.0.0'],
    [
      'a value that may be missing',
      (folder) =>
        edit(
          folder,
          'model/types/departure.yaml',
          'places: { kind: integer, required: true',
          'places: { kind: integer',
        ),
      '2.0.0',
    ],
  ])('%s leads to the version that its ratings ask for', async (_, change, version) => {
    const folder = coast();
    await lumbrik(folder, ['seal', '-m', 'one']);
    change(folder);
    expect(await result(folder, ['seal', '-m', 'two'])).toMatchObject({ version, previousVersion: '1.0.0' });
  });

  test('entries follow to a revision that asks nothing of them, and stay behind otherwise', async () => {
    const folder = coast();
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, light, 'max: 60', 'max: 90');
    expect((await result(folder, ['seal', '-m', 'two'])).standing).toEqual({ state: 'here', revision: 2 });
    edit(folder, light, 'max: 90', 'max: 40');
    expect((await result(folder, ['seal', '-m', 'three'])).standing).toEqual({ state: 'behind', revision: 2 });
    expect((await lumbrik(folder, ['check'])).out).toContain('The entries obey revision 2, and the model has moved on');
  });

  test('a message is needed', async () => {
    expect(await lumbrik(coast(), ['seal', '-m', '  '])).toMatchObject({
      code: 2,
      err: expect.stringContaining('needs a message'),
    });
  });

  async function keeperFields(folder: string): Promise<Record<string, unknown>> {
    return (await result(folder, ['show', 'keeper'])).fields.reduce((all: Record<string, unknown>, field: any) => {
      const { name, kind, options, required, help } = field;
      return {
        ...all,
        [name]: {
          ...options,
          kind,
          ...(required ? { required: required === 'always' ? true : required } : {}),
          ...(help ? { help } : {}),
        },
      };
    }, {});
  }
  const aboutKeeper = 'Someone who kept a light, or who keeps its memory as a guide today.';
});

describe('lumbrik history', () => {
  const threeRevisions = async () => {
    const folder = coast();
    for (const [index, max] of ['60', '70', '80'].entries()) {
      if (index > 0) edit(folder, light, /max: \d0, localized/u, `max: ${max}, localized`);
      await lumbrik(folder, ['seal', '-m', `number ${index + 1}`]);
    }
    return folder;
  };

  test('lists the revisions, newest first', async () => {
    const { revisions, ok } = await result(await threeRevisions(), ['history']);
    expect(ok).toBe(true);
    expect(revisions.map(({ revision, message }: Record<string, unknown>) => [revision, message])).toEqual([
      [3, 'number 3'],
      [2, 'number 2'],
      [1, 'number 1'],
    ]);
  });

  test.each<[string, (folder: string) => void, number]>([
    ['a word in its message', (folder) => edit(folder, 'revisions/0002.json', 'number 2', 'number two'), 2],
    ['a space', (folder) => edit(folder, 'revisions/0002.json', ',', ', '), 2],
    ['its model', (folder) => edit(folder, 'revisions/0001.json', '"max":60', '"max":61'), 1],
    [
      'its number',
      (folder) => fs.renameSync(path.join(folder, 'revisions/0003.json'), path.join(folder, 'revisions/0004.json')),
      4,
    ],
    ['the file as a whole', (folder) => write(folder, { 'revisions/0003.json': '{}' }), 3],
    [
      'another in its place',
      (folder) => fs.copyFileSync(path.join(folder, 'revisions/0001.json'), path.join(folder, 'revisions/0002.json')),
      2,
    ],
    ['its absence', (folder) => fs.rmSync(path.join(folder, 'revisions/0002.json')), 2],
  ])('finds %s altered, and nothing is built on it', async (_, alter, number) => {
    const folder = await threeRevisions();
    alter(folder);
    const { revisions, ok, code } = await result(folder, ['history']);
    expect([ok, code]).toEqual([false, 1]);
    expect(revisions.find(({ revision }: { revision: number }) => revision === number)).toMatchObject({
      sound: false,
      altered: expect.any(String),
    });
    const intact = [1, 2, 3].filter((one) => one !== number && !(number === 4 && one === 3));
    for (const one of intact)
      expect(revisions.find(({ revision }: any) => revision === one)).toMatchObject({ sound: true });
    const before = snapshot(folder);
    edit(folder, light, 'about: A light', 'about: Any light');
    expect(await lumbrik(folder, ['seal', '-m', 'x'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('was altered'),
    });
    expect([...snapshot(folder).keys()]).toEqual([...before.keys()]);
  });

  test('a revision whose hash was made to fit breaks the chain', async () => {
    const folder = await threeRevisions();
    const other = coast();
    edit(other, light, 'max: 60', 'max: 61');
    await lumbrik(other, ['seal', '-m', 'number 1']);
    fs.copyFileSync(path.join(other, 'revisions/0001.json'), path.join(folder, 'revisions/0001.json'));
    expect((await result(folder, ['history'])).revisions.map(({ sound }: { sound: boolean }) => sound)).toEqual([
      true,
      true,
      false,
    ]);
  });
});
