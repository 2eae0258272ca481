import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { git } from './support/git.ts';
import { edit, lumbrik, read, result, temporary, workspace } from './support/program.ts';

const model = {
  'model/types/note.yaml': 'type: note\nfields:\n  name: { kind: text }\n',
  'content/note/a.yaml': 'name: A\n',
};

describe('line ends that version control makes its own [M2]', () => {
  test('a workspace that git gives out with two characters at each line end works as before', async () => {
    const folder = workspace(model);
    const call = async (...args: readonly string[]) => {
      const ran = await lumbrik(folder, args);
      expect([args, ran.code, ran.err]).toEqual([args, 0, '']);
    };
    await call('seal', '-m', 'one');
    edit(folder, 'model/types/note.yaml', 'name: { kind: text }', 'title: { kind: text }');
    await call('migration', 'draft', '--renamed', 'note.name=title');
    await call('migration', 'rehearse', '1');
    await call('migration', 'run', '1');
    await call('seal', '-m', 'two');
    await call('schemas');
    await call('export', 'typescript', '--out', 'content.ts');
    await call('check', '--baseline');
    git(folder, 'init', '-q');
    git(folder, 'add', '-A');
    git(folder, 'commit', '-qm', 'all');

    const other = temporary();
    git(other, '-c', 'core.autocrlf=true', 'clone', '-q', folder, 'clone');
    const clone = path.join(other, 'clone');
    for (const file of ['revisions/0001.json', 'content.ts', 'model/types/note.yaml', 'schemas/entries/note.json'])
      expect([file, read(clone, file)]).toEqual([file, expect.stringContaining('\r\n')]);

    const { revisions } = await result(clone, ['history']);
    expect(revisions).toMatchObject([{ sound: true }, { sound: true }]);
    expect(await result(clone, ['diff'])).toMatchObject({ changes: [] });
    expect(await result(clone, ['check'])).toMatchObject({ findings: [] });
    for (const args of [
      ['schemas', '--check'],
      ['export', 'typescript', '--out', 'content.ts', '--check'],
    ])
      expect([args, (await lumbrik(clone, args)).code]).toEqual([args, 0]);
    edit(clone, 'model/types/note.yaml', 'title: { kind: text }', 'title: { kind: text, max: 20 }');
    expect((await lumbrik(clone, ['seal', '-m', 'three'])).code).toBe(0);
    expect(read(clone, 'revisions/0003.json').endsWith('}\n')).toBe(true);
  });

  test('any other byte of a revision that is another one is told all the same', async () => {
    const folder = workspace(model);
    await lumbrik(folder, ['seal', '-m', 'one']);
    const whole = read(folder, 'revisions/0001.json');
    for (const altered of [
      whole.trimEnd(),
      `${whole}\n`,
      `${whole.trimEnd()}\r`,
      whole.replace('note', 'node'),
      ` ${whole}`,
    ]) {
      fs.writeFileSync(path.join(folder, 'revisions/0001.json'), altered);
      expect((await lumbrik(folder, ['diff'])).err).toContain('0001.json was altered');
    }
  });
});
