import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { git } from './support/git.ts';
import { done } from './support/migrated.ts';
import { edit, lumbrik, read, result, snapshot, write } from './support/program.ts';

describe('the journals of runs [H5]', () => {
  test('are listed with their sizes; what is emptied cannot be taken back, and says so', async () => {
    const folder = await done();
    const { journals, aside } = await result(folder, ['migration', 'journals']);
    expect(journals).toMatchObject([{ number: 1, state: 'done', emptied: false }]);
    const [{ bytes, folder: journal }] = journals;
    const files = fs.readdirSync(path.join(folder, journal)).filter((name) => name.length === 64);
    expect(bytes).toBe(files.reduce((sum, name) => sum + fs.statSync(path.join(folder, journal, name)).size, 0));
    expect(aside).toEqual([]);
    expect((await result(folder, ['migration', 'journals', '--keep', '1'])).journals[0].emptied).toBe(false);
    const content = snapshot(folder, 'content');
    expect((await result(folder, ['migration', 'journals', '--keep', '0'])).journals[0]).toMatchObject({
      emptied: true,
      bytes,
    });
    expect((await result(folder, ['migration', 'journals'])).journals[0]).toMatchObject({ bytes: 0, state: 'done' });
    expect((await result(folder, ['migration', 'undo'])).error.code).toBe('damaged-originals');
    expect(snapshot(folder, 'content')).toEqual(content);
    expect((await result(folder, ['migration', 'list'])).migrations[0].state).toBe('run');
  });

  test('a run that was taken back keeps nothing that is needed; a wrong number empties none', async () => {
    const folder = await done();
    expect((await result(folder, ['migration', 'journals', '--keep', '-1'])).error.code).toBe('unusable-call');
    expect((await result(folder, ['migration', 'journals', '--keep', '1.5'])).error.code).toBe('unusable-call');
    await lumbrik(folder, ['migration', 'undo']);
    expect((await result(folder, ['migration', 'journals', '--keep', '5'])).journals[0]).toMatchObject({
      state: 'undone',
      emptied: true,
    });
  });

  test('a link among what a journal keeps is not followed', async () => {
    const folder = await done();
    const { journals } = await result(folder, ['migration', 'journals']);
    const outside = path.join(folder, 'outside.txt');
    write(folder, { 'outside.txt': 'x'.repeat(1000) });
    fs.symlinkSync(outside, path.join(folder, journals[0].folder, 'a'.repeat(64)));
    expect((await result(folder, ['migration', 'journals'])).journals[0].bytes).toBe(journals[0].bytes);
    await result(folder, ['migration', 'journals', '--keep', '0']);
    expect(fs.existsSync(outside)).toBe(true);
  });
});

describe('taking the model back with the entries [H6]', () => {
  test('brings every byte of its files back, as the commit had them that says it', async () => {
    const folder = await done();
    const file = 'model/types/light.yaml';
    const newer = read(folder, file);
    const older = newer.replace('new:', 'old:').concat('# as it was\n');
    write(folder, { '.gitignore': '.lumbrik/\n', [file]: older });
    git(folder, 'init', '-q');
    git(folder, 'add', '-A');
    git(folder, 'commit', '-qm', 'before');
    write(folder, { [file]: 'type: [\n' });
    git(folder, 'commit', '-qam', 'broken');
    write(folder, { [file]: newer, 'model/types/more.yaml': 'type: more\n' });
    git(folder, 'add', '-A');
    git(folder, 'commit', '-qm', 'after');
    const undone = await result(folder, ['migration', 'undo', '--model']);
    expect(undone.error).toBeUndefined();
    expect(undone.modelFrom).toMatch(/^[0-9a-f]{40}$/u);
    expect(read(folder, file)).toBe(older);
    expect(fs.existsSync(path.join(folder, 'model/types/more.yaml'))).toBe(false);
    expect((await result(folder, ['check'])).standing).toEqual({ state: 'here', revision: 1 });
  });

  test('changes nothing where no commit has it', async () => {
    const folder = await done();
    const bytes = snapshot(folder);
    expect((await result(folder, ['migration', 'undo', '--model'])).error.code).toBe('no-repository');
    git(folder, 'init', '-q');
    git(folder, 'add', 'model');
    git(folder, 'commit', '-qm', 'after');
    expect((await result(folder, ['migration', 'undo', '--model'])).error.code).toBe('no-commit');
    fs.rmSync(path.join(folder, '.git'), { recursive: true });
    expect(snapshot(folder)).toEqual(bytes);
    edit(folder, 'content/light/a.yaml', 'A', 'AA');
    expect((await result(folder, ['migration', 'undo'])).kept).toMatchObject([{ entry: 'light/a' }]);
  });
});
