import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { git } from './support/git.ts';
import { done, lightModel, ready, runOf } from './support/migrated.ts';
import { edit, lumbrik, read, result, snapshot, workspace, write } from './support/program.ts';

/** The files in a journal that keep bytes of entries, by what they hold. */
const keptIn = (folder: string): ReadonlyMap<string, string> =>
  new Map(
    fs
      .readdirSync(path.join(folder, runOf(folder)))
      .filter((name) => /^[0-9a-f]{64}$/u.test(name))
      .map((name) => [read(folder, path.join(runOf(folder), name)), path.join(runOf(folder), name)]),
  );

const originalA = 'name: A\nold: x\n';

describe('what was kept is what comes back [H6]', () => {
  const spoils: readonly (readonly [string, (file: string) => void])[] = [
    ['altered', (file) => fs.appendFileSync(file, '#')],
    ['cut off', (file) => fs.truncateSync(file, 3)],
    ['empty', (file) => fs.truncateSync(file, 0)],
    ['gone', (file) => fs.rmSync(file)],
    [
      'a folder',
      (file) => {
        fs.rmSync(file);
        fs.mkdirSync(file);
      },
    ],
    [
      'a link',
      (file) => {
        fs.rmSync(file);
        fs.symlinkSync('/etc/hostname', file);
      },
    ],
  ];

  test.each(spoils)(
    'an original that is %s is named with its entry, before the first is written',
    async (_name, spoil) => {
      const folder = await done();
      const after = snapshot(folder);
      spoil(path.join(folder, keptIn(folder).get(originalA) ?? ''));
      const refused = await result(folder, ['migration', 'undo']);
      expect(refused).toMatchObject({ code: 3, error: { code: 'damaged-originals' } });
      expect(refused.error.also).toEqual([expect.stringMatching(/^light\/a \(content\/light\/a\.yaml\) /u)]);
      expect(snapshot(folder)).toEqual(after);
      // The rest comes back when asked, and nothing is stuck afterwards.
      const partly = await result(folder, ['migration', 'undo', '--partly']);
      expect(partly).toMatchObject({ code: 3, ok: false, files: 1, left: [{ entry: 'light/a' }] });
      expect(read(folder, 'content/light/a.yaml')).toBe('name: A\nnew: x\n');
      expect(read(folder, 'content/light/c.yaml')).toBe('name: C\nold: y\n');
      expect((await result(folder, ['check'])).error).toBeUndefined();
      write(folder, { 'content/light/a.yaml': originalA });
      expect((await result(folder, ['migration', 'rehearse'])).code).toBe(0);
      expect((await result(folder, ['migration', 'run'])).code).toBe(0);
      expect((await result(folder, ['migration', 'undo'])).code).toBe(0);
      expect(read(folder, 'content/light/a.yaml')).toBe(originalA);
    },
  );

  test('a run that was stopped is not finished with damaged bytes, and can be taken back', async () => {
    const folder = await done();
    const after = keptIn(folder).get('name: A\nnew: x\n') ?? '';
    write(folder, { 'content/light/a.yaml': originalA });
    fs.rmSync(path.join(folder, runOf(folder), 'state'));
    fs.rmSync(path.join(folder, after));
    expect((await result(folder, ['check'])).error.code).toBe('interrupted-run');
    expect(await result(folder, ['migration', 'run'])).toMatchObject({
      code: 3,
      error: { code: 'damaged-originals', also: [expect.stringContaining('light/a')] },
    });
    expect((await result(folder, ['migration', 'undo'])).code).toBe(0);
    expect(read(folder, 'content/light/c.yaml')).toBe('name: C\nold: y\n');
  });

  test('permissions too', async () => {
    const folder = await ready();
    fs.chmodSync(path.join(folder, 'content/light/a.yaml'), 0o600);
    fs.chmodSync(path.join(folder, 'content/light/b.md'), 0o755);
    fs.chmodSync(path.join(folder, 'content/light/c.json'), 0o664);
    fs.chmodSync(path.join(folder, 'content/revision.yaml'), 0o640);
    const modes = (type: string) =>
      [`${type}/a.yaml`, `${type}/b.md`, `${type}/c.json`, 'revision.yaml'].map((name) =>
        (fs.statSync(path.join(folder, 'content', name)).mode & 0o777).toString(8),
      );
    const before = modes('light');
    expect(before).toEqual(['600', '755', '664', '640']);
    await lumbrik(folder, ['migration', 'run']);
    expect(modes('lighthouse')).toEqual(before);
    await lumbrik(folder, ['migration', 'undo']);
    expect(modes('light')).toEqual(before);
  });
});

describe('a journal is never removed unread [H6]', () => {
  test.each(['', 'dnoe\n', 'done\n', `done ${'0'.repeat(64)}\n`])(
    'a damaged `state` (%j): the entries tell how far the run has come',
    async (text) => {
      const folder = await done();
      write(folder, { [`${runOf(folder)}/state`]: text });
      expect((await result(folder, ['check'])).code).toBe(0);
      await lumbrik(folder, ['seal', '-m', 'two']);
      edit(folder, 'model/types/light.yaml', 'new:', 'newer:');
      await lumbrik(folder, ['migration', 'draft', '--renamed', 'light.new=newer']);
      await lumbrik(folder, ['migration', 'rehearse']);
      expect((await result(folder, ['migration', 'run'])).code).toBe(0);
      expect((await result(folder, ['migration', 'undo'])).code).toBe(0);
      expect((await result(folder, ['migration', 'undo'])).code).toBe(0);
      expect(read(folder, 'content/light/a.yaml')).toBe(originalA);
    },
  );

  test.each([
    ['state', 'folder'],
    ['plan.json', 'folder'],
    ['plan.json', 'gone'],
  ])('a damaged journal is moved aside by the next run, originals and all: %s is %s', async (name, what) => {
    const folder = await done();
    const journal = path.basename(runOf(folder));
    const file = path.join(folder, runOf(folder), name);
    fs.rmSync(file);
    if (what === 'folder') fs.mkdirSync(file);
    const { error, code } = await result(folder, ['migration', 'undo']);
    if (name === 'state') return expect([code, error]).toEqual([0, undefined]);
    expect([code, error.code]).toEqual([3, 'damaged-journal']);
    expect(error.also).toEqual([`it is now .lumbrik/damaged/${journal}`]);
    const kept = fs.readdirSync(path.join(folder, '.lumbrik/damaged', journal));
    expect(kept.map((one) => `${one}`).filter((one) => one.length === 64).length).toBeGreaterThanOrEqual(4);
    const { out } = await lumbrik(folder, ['migration', 'list']);
    expect(out).toContain(`.lumbrik/damaged/${journal}`);
  });
});

describe('which run is the last [H6]', () => {
  test('is told by the journal, not by a clock that was set back', async () => {
    const folder = await done();
    await lumbrik(folder, ['seal', '-m', 'two']);
    write(folder, lightModel('  newest: { kind: text }\n'));
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'light.new=newest']);
    await lumbrik(folder, ['migration', 'rehearse']);
    expect((await result(folder, ['migration', 'run'], { SOURCE_DATE_EPOCH: '1000' })).code).toBe(0);
    expect(await result(folder, ['migration', 'undo'])).toMatchObject({ code: 0, number: 2 });
    expect(await result(folder, ['migration', 'undo'])).toMatchObject({ code: 0, number: 1 });
    expect(read(folder, 'content/light/a.yaml')).toBe(originalA);
  });

  test('version control that goes back under a finished run is seen: list, check and undo agree', async () => {
    const folder = workspace({
      ...lightModel('  old: { kind: text }\n'),
      'content/light/a.yaml': originalA,
    });
    git(folder, 'init', '-q', '-b', 'main');
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, lightModel('  new: { kind: text }\n'));
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'light.old=new']);
    await lumbrik(folder, ['migration', 'rehearse']);
    git(folder, 'add', '-A');
    git(folder, 'commit', '-qm', 'before');
    await lumbrik(folder, ['migration', 'run']);
    git(folder, 'add', '-A');
    git(folder, 'commit', '-qm', 'after');
    const stateOf = async () => (await result(folder, ['migration', 'list'])).migrations[0].state;
    expect(await stateOf()).toBe('run');
    git(folder, 'checkout', '-q', 'HEAD~1');
    expect(await stateOf()).toBe('rehearsed');
    expect((await result(folder, ['check'])).standing).toMatchObject({ state: 'behind', revision: 1 });
    const before = snapshot(folder);
    const { code, error } = await result(folder, ['migration', 'undo']);
    expect([code, error.code]).toEqual([2, 'nothing-to-undo']);
    expect(error.says).toContain('already as they were before');
    expect(snapshot(folder)).toEqual(before);
    git(folder, 'checkout', '-q', 'main');
    expect(await stateOf()).toBe('run');
    expect((await result(folder, ['migration', 'undo'])).code).toBe(0);
    expect(read(folder, 'content/light/a.yaml')).toBe(originalA);
  });

  test('entries that came after it come along or are named, one that was deleted stays deleted', async () => {
    const folder = await done();
    write(folder, { 'content/light/z.yaml': 'name: Z\nnew: z\n', 'content/light/y.yaml': 'name: [' });
    const text = await lumbrik(folder, ['migration', 'undo']);
    expect(text.out).toContain('1 file came after the run');
    expect(text.out).toContain('content/light/y.yaml');
    expect(read(folder, 'content/light/z.yaml')).toBe('name: Z\nold: z\n');
    const other = await done();
    fs.rmSync(path.join(other, 'content/light/a.yaml'));
    const { code, kept } = await result(other, ['migration', 'undo']);
    expect([code, kept]).toMatchObject([0, [{ entry: 'light/a', state: 'deleted' }]]);
    expect(fs.existsSync(path.join(other, 'content/light/a.yaml'))).toBe(false);
    // A file that is moved by the run, and deleted since.
    const moved = await ready();
    await lumbrik(moved, ['migration', 'run']);
    fs.rmSync(path.join(moved, 'content/lighthouse/a.yaml'));
    edit(moved, 'content/lighthouse/c.json', 'C', 'D');
    const both = await result(moved, ['migration', 'undo']);
    expect(both.kept).toMatchObject([
      { entry: 'light/a', state: 'deleted' },
      { entry: 'light/c', state: 'edited', fields: ['name'] },
    ]);
    expect(read(moved, 'content/light/c.json')).toBe('{ "name": "D", "old": "y" }\n');
  });
});

describe('where the entries stand is never guessed [H5]', () => {
  /** A workspace with two revisions between which a field was renamed, and entries that obey one of them. */
  const twoRevisions = async (entry: string) => {
    const folder = workspace({ ...lightModel('  old: { kind: text }\n'), 'content/light/a.yaml': entry });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, lightModel('  new: { kind: text }\n'));
    await lumbrik(folder, ['seal', '-m', 'two']);
    fs.rmSync(path.join(folder, 'content/revision.yaml'));
    return folder;
  };

  test('it is worked out where the entries obey one recorded model alone', async () => {
    const folder = await twoRevisions(originalA);
    expect((await result(folder, ['check'])).standing).toEqual({ state: 'unknown' });
    expect(await result(folder, ['migration', 'draft', '--renamed', 'light.old=new'])).toMatchObject({
      code: 0,
      from: 'revision 1',
    });
    const other = await twoRevisions('name: A\nnew: x\n');
    expect(await result(other, ['migration', 'draft'])).toMatchObject({ error: { code: 'nothing-to-migrate' } });
  });

  test('it is asked for where they obey several, or none', async () => {
    for (const [entry, says] of [
      ['name: A\n', 'they would obey revision 2 and revision 1'],
      ['name: A\nneither: x\n', 'they obey none of the recorded revisions'],
    ] as const) {
      const folder = await twoRevisions(entry);
      const { code, error } = await result(folder, ['migration', 'draft']);
      expect([code, error.code]).toEqual([3, 'unknown-standing']);
      expect(error.says).toContain(says);
      edit(folder, 'model/types/light.yaml', 'new:', 'newest:');
      expect((await result(folder, ['seal', '-m', 'three'])).standing).toEqual({ state: 'unknown' });
      expect(fs.existsSync(path.join(folder, 'content/revision.yaml'))).toBe(false);
      expect(await result(folder, ['entry', 'revision', '1'])).toMatchObject({ code: 0, said: { revision: 1 } });
      expect((await result(folder, ['check'])).standing).toMatchObject({ state: 'behind', revision: 1 });
      expect(await result(folder, ['migration', 'draft'])).toMatchObject({ code: 0, from: 'revision 1' });
    }
  });

  test('and can be asked, and said, in words', async () => {
    const folder = await twoRevisions('name: A\n');
    const asked = await lumbrik(folder, ['entry', 'revision']);
    expect(asked.out).toContain('Not recorded');
    expect(asked.out).toContain('they obey revision 2 and revision 1 without a mistake');
    const said = await lumbrik(folder, ['entry', 'revision', '2']);
    expect(said.out).toContain('The entries obey revision 2, as you say');
    expect((await lumbrik(folder, ['entry', 'revision'])).out).toContain('and content/revision.yaml says so');
    expect((await lumbrik(folder, ['entry', 'revision', '9'])).code).toBe(2);
  });
});
