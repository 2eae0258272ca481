import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { copyOf } from './support/migrated.ts';
import { edit, type Files, lumbrik, read, result, snapshot, workspace, write } from './support/program.ts';
import { allStops } from './support/stops.ts';

const model: Files = {
  'model/types/light.yaml': `type: light
titled: name
fields:
  name: { kind: text }
  height: { kind: text }
  note: { kind: text }
  street: { kind: text }
  keeper: { kind: text }
  kind: { kind: choice, choices: [tower, buoy] }
  near: { kind: reference, to: light }
  text: { kind: markdown, body: true }
`,
};
const changed: Files = {
  'model/types/light.yaml': `type: light
titled: title
fields:
  title: { kind: text }
  height: { kind: integer }
  at: { kind: object, fields: { street: { kind: text } } }
  keeper: { kind: reference, to: person }
  near: { kind: reference, to: [light, buoy] }
  text: { kind: markdown, body: true }
`,
  'model/types/buoy.yaml': `type: buoy
titled: title
fields:
  title: { kind: text }
  height: { kind: integer }
  near: { kind: reference, to: [light, buoy] }
  text: { kind: markdown, body: true }
`,
  'model/types/person.yaml': 'type: person\ntitled: name\nfields:\n  name: { kind: text }\n',
};
const entries: Files = {
  'content/light/a.md':
    '---\n# one\nname: "A"   # said\nheight: "12"\nnote: N\nstreet: S\nkeeper: Ann\nkind: tower\nnear: b\n---\n\nA text.\n',
  'content/light/b.md': '---\nname: B\nheight: 7\nkind: buoy\nkeeper: Ann\n---\n\nB text.\n',
  'content/light/c.yaml': 'name: C\nheight: tall\n',
};
const written = `  - rename: light.name
    to: title
  - move: light.street
    to: light.at.street
  - add: person
    type: { titled: name, fields: { name: { kind: text } } }
  - pull: light.keeper
    field: { kind: reference, to: person }
  - add: buoy
    type:
      titled: title
      fields:
        title: { kind: text }
        height: { kind: integer }
        near: { kind: reference, to: [light, buoy] }
        text: { kind: markdown, body: true }
  - change: light.near
    to: { to: [light, buoy] }
  - convert: light.height
    field: { kind: integer }
  - send: light
    to: buoy
    where: has(entry.kind) && entry.kind == "buoy"
  - drop: light.note
  - drop: light.kind
`;

/** A trust after the run of a migration with a step of nearly every kind. */
async function ran(): Promise<{ readonly folder: string; readonly before: ReadonlyMap<string, string> }> {
  const folder = workspace({ ...model, ...entries });
  await lumbrik(folder, ['seal', '-m', 'one']);
  write(folder, changed);
  const { file } = await result(folder, ['migration', 'draft']);
  write(folder, { [file]: `${read(folder, file).replace(/\nsteps:[\s\S]*$/u, '\n')}steps:\n${written}` });
  const before = snapshot(folder, 'content');
  expect((await result(folder, ['migration', 'rehearse', '--prove'])).back.wrong).toEqual([]);
  expect((await result(folder, ['migration', 'run'])).error).toBeUndefined();
  return { folder, before };
}

describe('taking back a run after which entries were edited [H6]', () => {
  test('keeps the edits, and every other byte is what it was', async () => {
    const { folder, before } = await ran();
    edit(folder, 'content/light/a.md', 'height: 12', 'height: 13');
    edit(folder, 'content/light/a.md', 'street: S', 'street: Quay');
    edit(folder, 'content/light/a.md', 'A text.', 'Another text.');
    edit(folder, 'content/buoy/b.md', 'title: B', 'title: Bee\nstatus: draft');
    const { error, kept, lostEdits, ok } = await result(folder, ['migration', 'undo']);
    expect(error).toBeUndefined();
    expect(ok).toBe(true);
    expect(lostEdits).toEqual([]);
    expect(kept).toEqual([
      { entry: 'light/a', file: 'content/light/a.md', fields: ['height', 'text', 'street'], state: 'edited' },
      { entry: 'light/b', file: 'content/light/b.md', fields: ['name', 'status'], state: 'edited' },
    ]);
    expect(read(folder, 'content/light/a.md')).toBe(
      '---\n# one\nname: "A"   # said\nheight: "13"\nnote: N\nstreet: Quay\nkeeper: Ann\nkind: tower\nnear: b\n---\n\nAnother text.\n',
    );
    expect(read(folder, 'content/light/b.md')).toBe(
      '---\nname: Bee\nheight: 7\nkind: buoy\nkeeper: Ann\nstatus: draft\n---\n\nB text.\n',
    );
    expect(snapshot(folder, 'content').get('light/c.yaml')).toBe(before.get('light/c.yaml'));
    expect(fs.existsSync(path.join(folder, 'content/person'))).toBe(false);
    // The entries stand at the older revision again, and the migration can be run once more.
    expect((await result(folder, ['migration', 'rehearse'])).error).toBeUndefined();
    expect((await result(folder, ['migration', 'undo'])).error.code).toBe('nothing-to-undo');
  });

  test('a reference to what was sent elsewhere follows; an entry that came since comes along', async () => {
    const { folder } = await ran();
    write(folder, { 'content/light/d.md': '---\ntitle: D\nheight: 3\nnear: buoy/b\n---\n' });
    const { kept, added } = await result(folder, ['migration', 'undo']);
    expect(kept).toMatchObject([{ entry: 'light/d', state: 'new' }]);
    expect(added).toEqual([]);
    expect(read(folder, 'content/light/d.md')).toBe('---\nname: D\nheight: "3"\nnear: light/b\n---\n');
  });

  test('one of a type that is new stays, and is named', async () => {
    const { folder, before } = await ran();
    write(folder, { 'content/person/eve.yaml': 'name: Eve\n' });
    const { kept, added } = await result(folder, ['migration', 'undo']);
    expect([kept, added]).toEqual([[], ['content/person/eve.yaml']]);
    fs.rmSync(path.join(folder, 'content/person/eve.yaml'));
    expect([...snapshot(folder, 'content')].filter(([, bytes]) => bytes !== '')).toEqual([...before]);
  });

  test('a link that leads nowhere, and came since, is left as it is', async () => {
    const { folder } = await ran();
    fs.symlinkSync('nowhere', path.join(folder, 'content/light/elsewhere.md'));
    const { code, added } = await result(folder, ['migration', 'undo']);
    expect([code, added]).toEqual([0, ['content/light/elsewhere.md']]);
    expect(fs.readlinkSync(path.join(folder, 'content/light/elsewhere.md'))).toBe('nowhere');
  });

  test('a folder in the place of a file is told, and nothing is changed', async () => {
    const { folder } = await ran();
    fs.rmSync(path.join(folder, 'content/light/a.md'));
    fs.mkdirSync(path.join(folder, 'content/light/a.md'));
    const before = snapshot(folder);
    for (const args of [[], ['--partly']]) {
      const { error, code } = await result(folder, ['migration', 'undo', ...args]);
      expect([code, error.code, error.says]).toEqual([
        3,
        'file-in-the-way',
        expect.stringContaining('content/light/a.md is no regular file'),
      ]);
    }
    expect(snapshot(folder)).toEqual(before);
  });

  test('a comment that came since is named before anything is written', async () => {
    const { folder } = await ran();
    edit(folder, 'content/light/a.md', 'street: S', 'street: "# S" # new');
    const { error } = await result(folder, ['migration', 'undo']);
    expect(error).toMatchObject({
      code: 'edits-would-be-lost',
      also: ['light/a (content/light/a.md): the comment “# new” is not kept'],
    });
    expect(read(folder, 'content/light/a.md')).toContain('# new');
    const { kept, lostEdits } = await result(folder, ['migration', 'undo', '--partly']);
    expect([kept, lostEdits]).toMatchObject([[{ fields: ['street'] }], [{ entry: 'light/a' }]]);
    expect(read(folder, 'content/light/a.md')).toBe(
      String(entries['content/light/a.md']).replace('street: S', 'street: "# S"'),
    );
  });

  test('other quotes and another order are no edit', async () => {
    const { folder, before } = await ran();
    edit(folder, 'content/light/a.md', 'street: S', "street: 'S'");
    expect(await result(folder, ['migration', 'undo'])).toMatchObject({ ok: true, kept: [], lostEdits: [] });
    expect([...snapshot(folder, 'content')].filter(([, bytes]) => bytes !== '')).toEqual([...before]);
  });

  /** Two types, one of which a reference leads from, after a run that put what the one said into the other. */
  async function ranAcross(tour: string, keeper: string, found: string): Promise<string> {
    const types = (ofTour: string, ofKeeper: string): Files => ({
      'model/types/tour.yaml': `type: tour\nfields:\n  name: { kind: text }\n${ofTour}`,
      'model/types/keeper.yaml': `type: keeper\nfields:\n  name: { kind: text }\n${ofKeeper}`,
    });
    const folder = workspace({
      ...types('  phone: { kind: text }\n  guide: { kind: reference, to: keeper }\n', ''),
      'content/tour/a.yaml': 'name: A\nphone: "1"\nguide: k\n',
      'content/tour/c.yaml': 'name: C\n',
      'content/keeper/k.yaml': 'name: K\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, types(tour, keeper));
    const { steps } = await result(folder, ['migration', 'draft']);
    expect(steps.map(({ verb }: any) => verb)).toEqual([found]);
    await lumbrik(folder, ['migration', 'answer', '--step', '1', '--yes']);
    await lumbrik(folder, ['migration', 'rehearse']);
    expect((await result(folder, ['migration', 'run'])).error).toBeUndefined();
    return folder;
  }

  test.each([
    ['move', '  guide: { kind: reference, to: keeper }\n', '  phone: { kind: text }\n', 'phone: "1"', 'phone: "2"'],
    ['turn', '  phone: { kind: text }\n', '  tours: { kind: reference, to: tour, many: true }\n', '- a', '- c'],
  ])('an edit that would go into other entries is named: %s', async (verb, tour, keeper, was, is) => {
    const folder = await ranAcross(tour, keeper, verb);
    edit(folder, 'content/keeper/k.yaml', was, is);
    const { error } = await result(folder, ['migration', 'undo']);
    expect(error.code).toBe('edits-would-be-lost');
    expect(error.also).toMatchObject([expect.stringContaining('it goes into other entries on the way back')]);
    expect(read(folder, 'content/keeper/k.yaml')).toContain(is);
    expect((await result(folder, ['migration', 'undo', '--partly'])).error).toBeUndefined();
    expect(read(folder, 'content/keeper/k.yaml')).toBe('name: K\n');
    expect(read(folder, 'content/tour/a.yaml')).toBe('name: A\nphone: "1"\nguide: k\n');
  });

  test('so does an entry that came since, which stays as it is', async () => {
    const folder = await ranAcross(
      '  phone: { kind: text }\n',
      '  tours: { kind: reference, to: tour, many: true }\n',
      'turn',
    );
    write(folder, { 'content/keeper/m.yaml': 'name: M\ntours: [c]\n' });
    expect((await result(folder, ['migration', 'undo'])).added).toEqual(['content/keeper/m.yaml']);
    expect(read(folder, 'content/keeper/m.yaml')).toBe('name: M\ntours: [c]\n');
  });

  test('what was deleted stays deleted', async () => {
    const { folder } = await ran();
    fs.rmSync(path.join(folder, 'content/light/c.yaml'));
    const { kept } = await result(folder, ['migration', 'undo']);
    expect(kept).toMatchObject([{ entry: 'light/c', state: 'deleted' }]);
    expect(fs.existsSync(path.join(folder, 'content/light/c.yaml'))).toBe(false);
  });

  test('what cannot be kept is named before anything is written, and lost only where a person says so', async () => {
    const { folder } = await ran();
    edit(folder, 'content/person/ann.yaml', 'Ann', 'Anne');
    edit(folder, 'content/light/a.md', 'title: "A"', 'title: "Ay"');
    const bytes = snapshot(folder);
    const refused = await lumbrik(folder, ['migration', 'undo']);
    expect(refused.code).toBe(3);
    expect(refused.err).toContain('person/ann');
    expect(refused.err).toContain('the run made it, and it goes');
    expect(snapshot(folder)).toEqual(bytes);
    const { kept, lostEdits } = await result(folder, ['migration', 'undo', '--partly']);
    expect(kept.map(({ entry }: { entry: string }) => entry)).toEqual(['light/a']);
    expect(lostEdits.map(({ entry }: { entry: string }) => entry)).toEqual(['person/ann']);
    expect(read(folder, 'content/light/a.md')).toContain('name: "Ay"');
  });

  test('a file that is no entry any more, or a journal that lacks what was, changes nothing', async () => {
    const { folder } = await ran();
    write(folder, { 'content/light/a.md': '---\ntitle: [\n---\n' });
    expect((await result(folder, ['migration', 'undo'])).error.code).toBe('edits-would-be-lost');
    edit(folder, 'content/light/a.md', 'title: [', 'title: A');
    const runs = path.join(folder, '.lumbrik/runs', fs.readdirSync(path.join(folder, '.lumbrik/runs'))[0] ?? '');
    for (const name of fs.readdirSync(runs)) if (name.length === 64) fs.rmSync(path.join(runs, name));
    expect((await result(folder, ['migration', 'undo'])).error.code).toBe('damaged-originals');
  });

  test('a migration that says other steps by now tells no way back', async () => {
    const { folder } = await ran();
    edit(folder, 'content/light/a.md', 'height: 12', 'height: 13');
    const [file = ''] = fs.readdirSync(path.join(folder, 'migrations'));
    edit(folder, `migrations/${file}`, /^from: .*$/mu, `from: ${'a'.repeat(64)}`);
    const bytes = snapshot(folder, 'content');
    expect((await result(folder, ['migration', 'undo'])).error.code).toBe('no-way-back');
    expect(snapshot(folder, 'content')).toEqual(bytes);
  });

  test('a stop at any change of the disk: it either did not happen, or the next undo finishes it', async () => {
    const { folder: start } = await ran();
    edit(start, 'content/light/a.md', 'height: 12', 'height: 13');
    edit(start, 'content/buoy/b.md', 'title: B', 'title: Bee');
    const finished = copyOf(start);
    await lumbrik(finished, ['migration', 'undo']);
    const done = JSON.stringify([...snapshot(finished, 'content')]);
    const outcomes = new Set<string>();
    const changes = await allStops(start, ['migration', 'undo'], async (folder, stopAt) => {
      const { error } = await result(folder, ['check']);
      outcomes.add(String(error?.code));
      if (error)
        expect([stopAt, error.code, error.mend]).toEqual([
          stopAt,
          'interrupted-run',
          'Go on taking it back: lumbrik migration undo',
        ]);
      const again = await result(folder, ['migration', 'undo']);
      if (again.error) expect([stopAt, again.error.code]).toEqual([stopAt, 'nothing-to-undo']);
      expect([stopAt, JSON.stringify([...snapshot(folder, 'content')]) === done]).toEqual([stopAt, true]);
      expect((await result(folder, ['migration', 'list'])).migrations[0].state).not.toBe('run');
    });
    expect(changes).toBeGreaterThan(20);
    expect(outcomes).toEqual(new Set(['undefined', 'interrupted-run']));
  });
});
