import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { git } from './support/git.ts';
import { edit, lumbrik, read, result, started, temporary, workspace } from './support/program.ts';

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

describe("a home that is none, or no place for what is one person's own [M2]", () => {
  const fields = 'fields:\n  name: { kind: text }\n';
  /** A workspace with a migration that waits for its rehearsal, and how it is called with a home. */
  const waiting = async (home: string) => {
    const folder = workspace(model);
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/note.yaml', fields, 'fields:\n  title: { kind: text }\n');
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'note.name=title']);
    const env = { HOME: home, XDG_STATE_HOME: '', XDG_CACHE_HOME: 'cache' };
    return { folder, call: (...args: readonly string[]) => started(folder, args, { env }) };
  };
  const inRepository = (): string => {
    const folder = temporary();
    git(folder, 'init', '-q');
    return path.join(folder, 'home');
  };

  test.each([
    ['empty', () => '', 'HOME names no folder by its whole path'],
    ['relative', () => 'home', 'HOME names no folder by its whole path'],
    ['in a repository', inRepository, 'is a repository'],
    ['that cannot be made', () => '/proc/none', 'cannot be written to'],
  ])(
    '%s: nothing is kept, a rehearsal says what that means, and the run can be taken back',
    async (_what, home, why) => {
      const { folder, call } = await waiting(home());
      const before = fs.readdirSync(folder).sort();
      const oneLine = (text: string): string => text.replace(/\s+/gu, ' ');
      for (const args of [
        ['rehearse', '1'],
        ['run', '1'],
      ]) {
        const { code, out } = call('migration', ...args);
        expect([code, oneLine(out)]).toEqual([0, expect.stringContaining('ask for --from-elsewhere')]);
        expect(oneLine(out)).toContain(why);
      }
      const refused = call('migration', 'undo');
      expect([refused.code, oneLine(refused.err)]).toEqual([3, expect.stringContaining(why)]);
      expect(call('migration', 'undo', '--from-elsewhere').code).toBe(0);
      expect(read(folder, 'content/note/a.yaml')).toBe('name: A\n');
      expect(fs.readdirSync(folder).sort()).toEqual(before);
    },
  );

  test('as it should be: nothing is said of it', async () => {
    const { call } = await waiting(temporary());
    expect(call('migration', 'rehearse', '1').out).not.toContain('--from-elsewhere');
    expect(call('migration', 'run', '1').out).not.toContain('--from-elsewhere');
    expect(call('migration', 'undo').code).toBe(0);
  });
});
