import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { git } from './support/git.ts';
import { edit, lumbrik, result, temporary, workspace, write } from './support/program.ts';

const light = (max: number) => `type: light\nfields:\n  name: { kind: text, max: ${max} }\n`;

describe('any two models can be compared [A4]', () => {
  /** A repository with a workspace in a folder of it, and two commits of its model. */
  const repository = () => {
    const top = temporary();
    const folder = path.join(top, 'coast');
    write(folder, {
      'lumbrik.yaml': 'workspace: Coast\n',
      'model/types/light.yaml': light(80),
      'model/types/gone.yaml': 'type: gone\n',
      'content/light/a.yaml': 'name: A name of some letters\n',
    });
    git(top, 'init', '-q', '-b', 'main');
    git(top, 'add', '-A');
    git(top, 'commit', '-q', '-m', 'First');
    write(folder, { 'model/types/light.yaml': light(60) });
    git(top, 'rm', '-q', 'coast/model/types/gone.yaml');
    git(top, 'commit', '-q', '-a', '-m', 'Second');
    return folder;
  };

  test('the files at a commit of git, counted on the entries where these obey them', async () => {
    const folder = repository();
    edit(folder, 'model/types/light.yaml', 'max: 60', 'max: 10');
    const says = async (...args: readonly string[]) =>
      (await result(folder, ['diff', ...args])).changes.map((one: any) => `${one.address} ${one.says}`);
    expect(await says('commit:HEAD')).toEqual(['light.name max 60 → 10']);
    expect(await says('commit:HEAD~1', 'commit:main')).toEqual(['gone type removed', 'light.name max 80 → 60']);
    expect((await result(folder, ['diff', 'commit:HEAD'])).changes[0].impact).toMatchObject({ hits: 1, of: 1 });
    expect((await lumbrik(folder, ['diff', 'commit:HEAD~1', 'commit:HEAD'])).out).toContain(
      'commit:HEAD~1 → commit:HEAD',
    );
  });

  test.each([
    ['a commit that is not there', ['diff', 'commit:nowhere'], 'there is no commit `nowhere`'],
    ['something that looks like an option', ['diff', 'commit:--help'], 'there is no commit `--help`'],
    ['a revision that is not there', ['diff', '7'], 'no revision is recorded yet'],
  ])('%s is refused', async (_name, args, says) => {
    const { code, err } = await lumbrik(repository(), args);
    expect([code, err.toLowerCase()]).toEqual([2, expect.stringContaining(says)]);
  });

  test('a workspace outside any repository, and one that was not there yet', async () => {
    const alone = workspace({ 'model/types/light.yaml': light(80) });
    expect((await lumbrik(alone, ['diff', 'commit:HEAD'])).err).toContain('lies in no git repository');
    const top = temporary();
    git(top, 'init', '-q', '-b', 'main');
    git(top, 'commit', '-q', '--allow-empty', '-m', 'Nothing');
    write(top, { 'coast/lumbrik.yaml': 'workspace: Coast\n' });
    expect((await lumbrik(path.join(top, 'coast'), ['diff', 'commit:HEAD'])).err).toContain('was not there yet');
  });

  test('the folder of another workspace', async () => {
    const other = workspace({ 'model/types/light.yaml': light(80) });
    const here = workspace({ 'model/types/light.yaml': light(90) });
    expect((await result(here, ['diff', other, 'working'])).changes).toMatchObject([{ says: 'max 80 → 90' }]);
    edit(other, 'model/types/light.yaml', 'max', 'mxa');
    expect(await lumbrik(here, ['diff', other])).toMatchObject({
      code: 2,
      err: expect.stringContaining('The model has a mistake'),
    });
  });
});
