import { describe, expect, test } from 'vitest';
import { git } from './support/git.ts';
import { edit, lumbrik, result, workspace, write } from './support/program.ts';

/** A workspace in a repository: sealed and committed, then changed. */
const cellar = async () => {
  const folder = workspace({
    'lumbrik.yaml': 'workspace: Keller\nlanguages: [de]\nbuiltIn: { status: zustand }\n',
    'model/types/wein.yaml':
      'type: wein\nfields:\n  jahr: { kind: integer }\n  name: { kind: text }\n  rest: { kind: text }\n',
    'model/types/fass.yaml': 'type: fass\nfields:\n  name: { kind: text }\n',
    'content/wein/a.yaml': 'jahr: 2019\nname: Kabinett\nrest: x\nzustand: draft\n',
    'content/wein/b.yaml': 'jahr: 2021\nname: Auslese\n',
    'content/fass/f.yaml': 'name: F\n',
  });
  await lumbrik(folder, ['seal', '-m', 'Eins']);
  git(folder, 'init', '-q', '-b', 'main');
  git(folder, 'add', '-A');
  git(folder, 'commit', '-q', '-m', 'Eins');
  edit(folder, 'model/types/wein.yaml', 'jahr: {', 'jahrgang: {');
  edit(folder, 'model/types/wein.yaml', '  rest: { kind: text }\n', '  lage: { kind: boolean }\n');
  write(folder, {
    'content/wein/a.yaml': 'jahrgang: 2019\nname: Kabinett\nlage: true\nzustand: draft\n',
    'content/wein/b.yaml': 'name: Auslese\n',
  });
  return folder;
};

describe('how fields are used, and how they were [J2]', () => {
  test.each(['1', 'sealed', 'commit:HEAD'])(
    'since %s: what differs, with what is new, gone and called otherwise',
    async (before) => {
      const folder = await cellar();
      const { out, code } = await lumbrik(folder, ['profile', '--before', before]);
      expect(code).toBe(0);
      expect(out).toContain(`Now, and before: ${before === '1' ? 'revision 1' : before}`);
      expect(out).toMatch(/~ {2}jahrgang \(was jahr\) +100 % → 50 % +all 2 → 1 +2019 … 2021 → 2019/u);
      expect(out).toMatch(/\+ {2}lage +50 %/u);
      expect(out).toMatch(/- {2}rest +50 %/u);
      expect(out).toContain('1 field as before');
      expect(out).toContain('Used as before: Fasses\n');
      expect(Math.max(...out.split('\n').map((line) => line.length))).toBeLessThanOrEqual(100);
    },
  );

  test('of one field under its name of now, and as data', async () => {
    const folder = await cellar();
    const { types, before } = await result(folder, ['profile', 'wein.jahrgang', '--before', '1']);
    expect(types[0].fields).toMatchObject([{ address: 'wein.jahrgang', was: 'wein.jahr', filled: 1, of: 2 }]);
    expect(before.types[0].fields).toMatchObject([{ address: 'wein.jahr', filled: 2, of: 2 }]);
    const fresh = await result(folder, ['profile', 'wein.lage', '--before', '1']);
    expect(fresh.before.types).toEqual([]);
  });

  test('another workspace, whose settings are its own', async () => {
    const folder = await cellar();
    const other = workspace({
      'lumbrik.yaml': 'workspace: Anderer\nlanguages: [fr]\n',
      'model/types/wein.yaml': 'type: wein\nfields:\n  name: { kind: text }\n  zustand: { kind: text }\n',
      'content/wein/x.yaml': 'name: X\nzustand: offen\n',
    });
    const { types, before } = await result(folder, ['profile', 'wein', '--before', other]);
    expect(before.types[0]).toMatchObject({ entries: 1 });
    expect(before.types[0].fields.map(({ address }: { address: string }) => address)).toContain('wein.zustand');
    expect(types[0].statuses).toContainEqual({ status: 'draft', entries: 1 });
  });

  test('what nobody can know is said', async () => {
    const folder = await cellar();
    const said = async (before: string) => (await lumbrik(folder, ['profile', '--before', before])).err;
    expect(await said('7')).toContain('There is no revision 7');
    expect(await said('commit:nowhere')).toContain('There is no commit `nowhere`');
    await lumbrik(folder, ['seal', '-m', 'Zwei']);
    expect(await said('2')).toContain('Revision 2 is in no commit');
    const alone = workspace({ 'lumbrik.yaml': 'workspace: W\n' });
    expect((await lumbrik(alone, ['profile', '--before', 'commit:HEAD'])).err).toContain('lies in no git repository');
  });
});
