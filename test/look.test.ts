import fs from 'node:fs';
import { describe, expect, test } from 'vitest';
import { coast, lumbrik, read, result, snapshot, temporary, workspace, write } from './support/program.ts';

describe('lumbrik new [A2]', () => {
  test('makes an empty workspace that passes its own check', async () => {
    const folder = temporary();
    const made = await result(folder, ['new', 'coast']);
    expect(made).toMatchObject({ code: 0, command: 'new', starter: 'empty' });
    expect(made.files).toContain('lumbrik.yaml');
    expect(read(folder, 'coast/lumbrik.yaml')).toContain('workspace: "Coast"');
    expect(await result(`${folder}/coast`, ['check'])).toMatchObject({ code: 0, ok: true, entries: 1 });
  });

  test('makes the worked example: eight types, three taxonomies, over seventy entries, no error [A2]', async () => {
    const folder = temporary();
    await lumbrik(folder, ['new', 'coast', '--starter', 'lighthouses']);
    const { types, taxonomies, entries, ok } = await result(`${folder}/coast`, ['check']);
    expect([types, taxonomies, ok]).toEqual([8, 3, true]);
    expect(entries).toBeGreaterThanOrEqual(70);
    const endings = fs
      .readdirSync(`${folder}/coast/content`, { recursive: true })
      .map((name) => String(name).split('.')[1]);
    for (const ending of ['md', 'yaml', 'json']) expect(endings).toContain(ending);
  });

  test('never writes where something is', async () => {
    const folder = coast();
    const before = snapshot(folder);
    expect(await lumbrik(folder, ['new', '.'])).toMatchObject({
      code: 3,
      err: expect.stringContaining('holds a workspace already'),
    });
    expect(await lumbrik(folder, ['new', 'inner'])).toMatchObject({
      code: 3,
      err: expect.stringContaining('lies inside the workspace'),
    });
    expect(snapshot(folder)).toEqual(before);
    const other = temporary();
    write(other, { 'used/notes.txt': 'mine', file: 'mine' });
    expect(await lumbrik(other, ['new', 'used'])).toMatchObject({
      code: 3,
      err: expect.stringContaining('is not empty'),
    });
    expect(await lumbrik(other, ['new', 'file'])).toMatchObject({ code: 2, err: expect.stringContaining('is a file') });
    expect(await lumbrik(other, ['new', 'x', '--starter', 'lighthouse'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('Did you mean `lighthouses`?'),
    });
    expect(fs.readdirSync(other).sort()).toEqual(['file', 'used']);
  });
});

describe('lumbrik show [J1]', () => {
  test('the workspace at a glance', async () => {
    const folder = coast();
    const { types, taxonomies, revision, standing } = await result(folder, ['show']);
    const lighthouse = types.find((type: { name: string }) => type.name === 'lighthouse');
    expect(lighthouse).toMatchObject({ entries: 11, fields: 18, pointsAt: [{ type: 'keeper', count: 14 }] });
    expect(taxonomies.map((one: { name: string }) => one.name)).toEqual(['character', 'region', 'topic']);
    expect(revision).toBeUndefined();
    expect(standing).toEqual({ state: 'unrecorded' });
    expect((await lumbrik(folder, ['show'])).out).toMatch(/lighthouse\s+Lighthouses\s+11\s+18\s+keeper 14/u);
  });

  test('what changed since it was sealed', async () => {
    const folder = coast();
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { 'model/types/boat.yaml': 'type: boat\n' });
    expect((await result(folder, ['show'])).changed).toEqual([{ address: 'boat', says: 'new type' }]);
  });

  test('a type with its fields in the order of its file, and a single field', async () => {
    const folder = coast();
    const shown = await result(folder, ['show', 'lighthouse']);
    expect(shown.fields.map((field: { name: string }) => field.name).slice(0, 4)).toEqual([
      'name',
      'slug',
      'summary',
      'story',
    ]);
    expect(shown.inverses).toEqual([
      { field: 'home.featured', name: 'featured on' },
      { field: 'notice.about', name: 'notices' },
      { field: 'page.text' },
      { field: 'page.parts.light', name: 'shown on' },
      { field: 'tour.lights', name: 'tours' },
    ]);
    expect(await result(folder, ['show', 'lighthouse.darkSince'])).toMatchObject({
      what: 'field',
      entries: 11,
      filled: 1,
    });
  });

  test('a taxonomy as a tree with counts, by either way of writing it, and from a term down', async () => {
    const folder = coast();
    const { terms } = await result(folder, ['show', 'region:']);
    expect(terms[0]).toMatchObject({ term: 'north', entries: 1, withBelow: 5 });
    expect((await result(folder, ['show', 'region'])).terms).toEqual(terms);
    expect((await result(folder, ['show', 'region:north/skerries'])).terms).toEqual([terms[0].terms[0]]);
    expect((await lumbrik(folder, ['show', 'region'])).out).toContain('├─ The Skerries  skerries');
  });

  test('an entry, and what points at it', async () => {
    const shown = await result(coast(), ['show', 'lighthouse/gull-stack']);
    expect(shown).toMatchObject({
      title: 'Gull Stack',
      status: 'published',
      empty: ['darkSince', 'shareTitle', 'shareText', 'sharePicture'],
    });
    expect(shown.pointedAtBy).toContainEqual({ entry: 'tour/skerries-at-dawn', pointer: '/lights/1' });
  });

  test.each<[string, string]>([
    ['lighthuse', 'Did you mean `lighthouse`?'],
    ['lighthouse.nam', 'Did you mean `name`?'],
    ['regio:', 'Did you mean `region`?'],
    ['region:nort', 'Did you mean `north`?'],
    ['lighthouse/gull-stak', 'Did you mean `gull-stack`?'],
    ['constructor', 'There are'],
    ['__proto__', 'is no address'],
    ['Light House', 'is no address'],
  ])('an address that leads nowhere: %s', async (address, mend) => {
    const { code, err } = await lumbrik(coast(), ['show', address]);
    expect(code).toBe(2);
    expect(err).toContain(mend);
  });

  test('nothing at all', async () => {
    expect((await lumbrik(workspace({}), ['show'])).out).toContain('No types yet');
  });
});
