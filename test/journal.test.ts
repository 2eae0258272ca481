import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { isOurs } from '../src/workspace/localKey.ts';
import { git } from './support/git.ts';
import { done, lightModel as model, runOf } from './support/migrated.ts';
import { edit, lumbrik, read, result, root, snapshot, workspace, write } from './support/program.ts';

test('a mark of as many characters that are more bytes is no mark of ours [A5]', () => {
  expect(isOurs('a text', 'é'.repeat(64))).toBe(false);
});

describe('the journal of a run', () => {
  test('holds the originals, and is not for version control', async () => {
    const folder = await done();
    expect(read(folder, '.lumbrik/.gitignore')).toBe('*\n');
    const { plan } = JSON.parse(read(folder, `${runOf(folder)}/plan.json`));
    const [change] = plan.files;
    expect(read(folder, `${runOf(folder)}/${change.before.hash}`)).toBe('name: A\nold: x\n');
    expect(read(folder, `${runOf(folder)}/${change.after.hash}`)).toBe('name: A\nnew: x\n');
  });

  test('that is damaged is told once, moved aside whole, and nothing is guessed', async () => {
    const folder = await done();
    const name = path.basename(runOf(folder));
    write(folder, { [`${runOf(folder)}/plan.json`]: '{"files": [' });
    const before = snapshot(folder);
    expect(await result(folder, ['migration', 'undo'])).toMatchObject({ code: 3, error: { code: 'damaged-journal' } });
    expect(snapshot(folder)).toEqual(before);
    expect(fs.readdirSync(path.join(folder, '.lumbrik/damaged', name)).length).toBeGreaterThan(3);
    expect(await result(folder, ['migration', 'undo'])).toMatchObject({ code: 2, error: { code: 'nothing-to-undo' } });
    expect((await result(folder, ['migration', 'list'])).aside).toEqual([`.lumbrik/damaged/${name}`]);
    expect(snapshot(folder)).toEqual(before);
  });

  test('that was never begun counts for nothing and is cleared away by the next run', async () => {
    const folder = await done();
    await lumbrik(folder, ['migration', 'undo']);
    write(folder, { '.lumbrik/staging/000009-0001/plan.json': '{}', '.lumbrik/staging/000009-0001/abc': 'x' });
    expect((await result(folder, ['check'])).error).toBeUndefined();
    await lumbrik(folder, ['migration', 'rehearse']);
    expect((await result(folder, ['migration', 'run'])).code).toBe(0);
    expect(fs.readdirSync(path.join(folder, '.lumbrik/staging'))).toEqual([]);
  });

  test('several runs are taken back one by one, the last first', async () => {
    const folder = await done();
    await lumbrik(folder, ['seal', '-m', 'two']);
    write(folder, model('  newest: { kind: text }\n'));
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'light.new=newest']);
    await lumbrik(folder, ['migration', 'rehearse']);
    expect(await result(folder, ['migration', 'run'])).toMatchObject({ code: 0, number: 2 });
    expect(
      (await result(folder, ['migration', 'list'])).migrations.map(({ state }: { state: string }) => state),
    ).toEqual(['run', 'run']);
    const before = snapshot(folder);
    expect(await result(folder, ['migration', 'undo', '1'])).toMatchObject({
      code: 3,
      error: { code: 'not-the-last' },
    });
    expect(snapshot(folder)).toEqual(before);
    expect(await result(folder, ['migration', 'undo', '2'])).toMatchObject({ code: 0, number: 2 });
    expect(read(folder, 'content/light/a.yaml')).toBe('name: A\nnew: x\n');
    expect(await result(folder, ['migration', 'undo'])).toMatchObject({ code: 0, number: 1 });
    expect(read(folder, 'content/light/a.yaml')).toBe('name: A\nold: x\n');
    expect(await result(folder, ['migration', 'rehearse', '2'])).toMatchObject({
      code: 0,
      ahead: ['migrations/0001-rename-old.yaml'],
    });
    expect(await result(folder, ['migration', 'run', '2'])).toMatchObject({
      code: 3,
      error: { code: 'other-standing' },
    });
    expect(
      (await result(folder, ['migration', 'list'])).migrations.map(({ state }: { state: string }) => state),
    ).toEqual(['rehearsed', 'waiting']);
  });

  test('what the content stands at is not guessed either', async () => {
    const folder = await done();
    write(folder, { 'content/revision.yaml': 'model: nonsense\n' });
    expect(await result(folder, ['check'])).toMatchObject({ code: 2, error: { code: 'unusable-standing' } });
    write(folder, { 'content/revision.yaml': `model: "${'0'.repeat(64)}"\n` });
    expect((await result(folder, ['check'])).standing).toEqual({ state: 'unknown' });
    expect(await result(folder, ['migration', 'rehearse'])).toMatchObject({ error: { code: 'unknown-standing' } });
  });
});

describe('a workspace in a repository [A1]', () => {
  test('models may be JSON, in folders of any depth, and a rename is one line of a diff', async () => {
    const folder = workspace({
      'model/coast/lights/light.json':
        '{ "type": "light", "fields": { "name": { "kind": "text" }, "h": { "kind": "integer" } } }\n',
      'content/light/a.md': '---\n# chart 4\nname: A\nh: 3 # metres\n---\n\nText\n'.replace('\nText\n', ''),
    });
    git(folder, 'init', '-q');
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/coast/lights/light.json', '"h"', '"height"');
    git(folder, 'add', '-A');
    git(folder, 'commit', '-qm', 'x');
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'light.h=height']);
    await lumbrik(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    expect(git(folder, 'diff', '--numstat', 'content/light').trim()).toBe('1\t1\tcontent/light/a.md');
    expect(git(folder, 'status', '--short', '--untracked-files=all')).not.toContain('.lumbrik');
  });
});

describe('the demo', () => {
  // A hundred calls, each a process of its own: a machine that does other things as well may take minutes.
  test('plays the whole story', { timeout: 600_000 }, () => {
    const { status, stdout, stderr } = spawnSync(process.execPath, [path.join(root, 'scripts/demo.mjs')], {
      encoding: 'utf8',
      env: { PATH: process.env.PATH ?? '', LANG: 'C.UTF-8' },
    });
    expect([status, stderr]).toEqual([0, '']);
    expect(stdout).toContain('Everything above was real');
  });
});
