import { spawnSync } from 'node:child_process';
import { describe, expect, test } from 'vitest';
import { commands, groups } from '../src/commands/index.ts';
import {
  coast,
  edit,
  lumbrik,
  program,
  read,
  result,
  root,
  started,
  temporary,
  workspace,
  write,
} from './support/program.ts';

describe('calling lumbrik', () => {
  test('says its version and nothing else', async () => {
    const { version } = JSON.parse(read(root, 'package.json'));
    expect(started(temporary(), ['--version'])).toEqual({ code: 0, out: `${version}\n`, err: '' });
  });

  test.each([[['--help']], [['migration', '--help']]])('%j lists the commands', async (args) => {
    const { code, out } = await lumbrik(temporary(), args);
    expect(code).toBe(0);
    for (const name of args.length > 1
      ? ['draft', 'rehearse', 'run', 'undo', 'list']
      : ['new', 'show', 'check', 'seal', 'history', 'diff', 'migration'])
      expect(out).toContain(name);
    for (const line of out.split('\n')) expect(line.length).toBeLessThanOrEqual(100);
  });

  const everyCommand = [
    ...commands.map(({ usage }) => usage.split(' ')[0] ?? ''),
    ...groups.flatMap(({ name, commands: below }) => below.map(({ usage }) => `${name} ${usage.split(' ')[0]}`)),
  ];
  test.each(everyCommand)('%s --help has an example, fits, and offers no choice twice', async (command) => {
    const { code, out } = await lumbrik(temporary(), [...command.split(' '), '--help']);
    expect(code).toBe(0);
    expect(out).toContain('Examples:');
    expect(out).toContain(`lumbrik ${command}`);
    for (const line of out.split('\n')) expect(line.length).toBeLessThanOrEqual(100);
    for (const [, choices = ''] of out.matchAll(/\[choices: ([^\]]+)\]/gu)) {
      const each = choices.split(/,\s+/u);
      expect(each).toEqual([...new Set(each)]);
    }
  });

  test.each<[readonly string[], string, string]>([
    [['chek'], 'There is no command `chek`', 'Did you mean `check`?'],
    [['show', '--formt', 'json'], 'There is no option --formt', 'Did you mean `--format`?'],
    [['migration', 'drft'], 'There is no command `drft`', 'Did you mean `draft`?'],
    [['migration'], 'Say which', 'lumbrik migration --help'],
    [['--workspace'], '--workspace is followed by no value', '--workspace=-…'],
    [['check', '--where'], '--where is followed by no value', '--where=-…'],
    [['check', '--where', '-x'], '--where is followed by no value', '--where=-…'],
    [['seal'], 'The call lacks --message', 'lumbrik seal --help'],
    [['show', 'a', 'b'], 'There is no room for `b`', 'lumbrik show --help'],
    [['show', '--format', 'xml'], '--format is text or json, not xml', 'lumbrik show --help'],
    [['check', '--format', 'sarf'], 'not sarf', 'Did you mean `sarif`?'],
    [['export', 'xml'], '<to> is typescript,', 'lumbrik export --help'],
    [['trace', 'a/b', '--unlinked'], '--unlinked and <entry> do not go together', 'Leave one of them out'],
  ])('%j is refused with the nearest that would be right', async (args, says, mend) => {
    const { code, out, err } = await lumbrik(coast(), args);
    expect(code).toBe(2);
    expect(out).toBe('');
    expect(err).toContain(says);
    expect(err).toContain(mend);
    expect(err).not.toMatch(/^\s+at /mu);
  });

  test('alone it says where one stands, and the one thing to do next', async () => {
    const folder = coast();
    const said = async (): Promise<string> => (await lumbrik(folder, [])).out;
    expect((await lumbrik(temporary(), ['--workspace', folder, '--no-color'])).out).toBe(await said());
    expect(JSON.parse((await lumbrik(folder, ['--format', 'json'])).out)).toMatchObject({ what: 'workspace' });
    expect(await said()).toMatch(/Entries 72 in en and fr\n.*Check .*no errors.*› lumbrik seal -m/su);
    await lumbrik(folder, ['seal', '-m', 'one']);
    expect(await said()).toContain('revision 1, version 1.0.0, of ');
    edit(folder, 'model/types/tour.yaml', 'max: 200 }', 'max: 300 }');
    expect(await said()).toMatch(/Changed .*tour\..*› lumbrik diff/su);
    edit(folder, 'model/types/tour.yaml', 'max: 300 }', 'max: 20 }');
    expect(await said()).toMatch(/The entries obey revision 1.*› lumbrik migration draft/su);
    expect((await said()).split('\n').length).toBeLessThanOrEqual(13);
    edit(folder, 'model/types/tour.yaml', 'max: 20 }', 'max: 200 }');
    write(folder, { 'content/tour/wrong.md': '---\nname: X\n---\n' });
    expect(await said()).toMatch(/✗ \d+ errors.*› lumbrik check/su);
    // What is declined, or known, is no more told here than by a check.
    await lumbrik(folder, ['check', '--baseline']);
    expect(await said()).toMatch(/Check +✓ no errors\n/u);
  });

  test('a folder that is no workspace is refused by every command, as text and as data', async () => {
    const folder = temporary();
    for (const args of [
      [],
      ['show'],
      ['check'],
      ['list'],
      ['profile'],
      ['map'],
      ['advice'],
      ['seal', '-m', 'x'],
      ['history'],
      ['diff'],
      ['migration', 'draft'],
      ['migration', 'list'],
      ['migration', 'undo'],
    ]) {
      const { code, err } = await lumbrik(folder, args);
      expect([code, err]).toEqual([2, expect.stringContaining('There is no workspace here')]);
    }
    expect((await result(folder, ['show'])).error.code).toBe('no-workspace');
    expect((await result(folder, ['show', '--workspace', 'nowhere'])).error.says).toContain('nowhere is no workspace');
  });

  test('a folder that was removed under the shell is told, without a stack trace', () => {
    const script = 'mkdir gone && cd gone && rmdir ../gone && exec "$0" "$1" check "$2" "$3"';
    const call = (...more: string[]) =>
      spawnSync('sh', ['-c', script, process.execPath, program, ...more], { cwd: temporary(), encoding: 'utf8' });
    const { status, stderr } = call();
    expect([status, stderr]).toEqual([2, expect.stringContaining('The folder that you stand in is gone')]);
    expect(stderr).not.toMatch(/\bat /u);
    expect(JSON.parse(call('--format', 'json').stdout).error.code).toBe('no-folder');
  });

  test('the workspace is the nearest folder upwards, or the one that is named', async () => {
    const folder = coast();
    expect((await result(`${folder}/content/keeper`, ['show'])).workspace).toBe('Gannet Sound Lighthouse Trust');
    expect((await result(temporary(), ['show', '--workspace', folder])).workspace).toBe(
      'Gannet Sound Lighthouse Trust',
    );
  });

  test('colour is for terminals, and can be asked for and refused', async () => {
    const folder = workspace({});
    const { out: plain } = await lumbrik(folder, ['show']);
    expect(plain).toMatch(/\S/u);
    expect(plain).not.toContain('\u001B');
    expect((await lumbrik(folder, ['show', '--color'])).out).toContain('\u001B');
    expect((await lumbrik(folder, ['show', '--color'], { NO_COLOR: '1' })).out).toBe(plain);
    expect((await lumbrik(folder, ['show', '--no-color'], { FORCE_COLOR: '1' })).out).toBe(plain);
  });

  test('a terminal without Unicode gets plain letters', async () => {
    const { out } = await lumbrik(coast(), ['check'], { LANG: 'C' });
    expect(out).toContain('ok No error');
    // biome-ignore lint/suspicious/noControlCharactersInRegex: the range of ASCII is what is asked for
    expect(out).toMatch(/^[\x00-\x7F]*$/u);
  });

  test.each(['bash', 'zsh', 'fish'])('prints a script for completion in %s', async (shell) => {
    const { out, code } = await lumbrik(temporary(), ['completion', shell]);
    expect([code, out]).toEqual([0, expect.stringContaining(`lumbrik --complete ${shell} `)]);
    expect((await lumbrik(temporary(), ['completion'], { SHELL: `/usr/bin/${shell}` })).out).toBe(out);
  });

  test.each([
    [['ch'], ['check']],
    [['comp'], ['completion']],
    [['migration', 're'], ['rehearse']],
    [
      ['check', '--f'],
      ['--format', '--fix'],
    ],
    [['check', '--format', 'sa'], ['sarif']],
    [['completion', 'f'], ['fish']],
    [['check', '--where', ''], []],
    [['nothing', ''], []],
  ])('a shell is offered commands, options and choices for %j', async (words, expected) => {
    const { out, code } = await lumbrik(temporary(), ['--complete', 'fish', ...words]);
    const offered = out.split('\n').filter(Boolean);
    expect([code, offered.map((line) => line.split('\t')[0])]).toEqual([0, expected]);
  });

  test.each([
    [
      ['show', 'sk'],
      ['skerry', 'skerry.name'],
    ],
    [
      ['show', 'light'],
      ['light', 'light.name', 'light.state', 'light.state:on', 'light/No. 1', 'light/b'],
    ],
    [
      ['show', 'light.st'],
      ['light.state', 'light.state:on'],
    ],
    [['show', 'area:n'], ['area:north']],
    [
      ['trace', ''],
      ['light/', 'skerry/'],
    ],
    [
      ['trace', 'light/'],
      ['light/No. 1', 'light/b'],
    ],
    [
      ['terms', '--language', 'en', 'ar'],
      ['area:', 'area:north'],
    ],
    [['try', 'entry.name', 'light/b', 'light/N'], ['light/No. 1']],
    [['add', 'term', ''], ['area']],
    [['entry', 'new', 'l'], ['light']],
    [['explain', 'slu'], ['slug']],
    [['show', '--workspace', '/nowhere', ''], []],
  ])('a shell is offered what %j can go on with', async (words, expected) => {
    const folder = workspace({
      'model/types/light.yaml':
        'type: light\nfields: { name: { kind: text }, state: { kind: choice, choices: [on] } }\n',
      'model/types/skerry.yaml': 'type: skerry\nfields: { name: { kind: text } }\n',
      'model/taxonomies/area.yaml': 'taxonomy: area\nterms: [north]\n',
      'content/light/No. 1.yaml': 'name: One\n',
      'content/light/b.yaml': 'name: B\n',
    });
    const { out, code } = await lumbrik(folder, ['--complete', 'fish', ...words]);
    expect([code, out.split('\n').filter(Boolean)]).toEqual([0, expected]);
  });

  test('an entry is offered behind thousands of others, in files of lines and in folders', async () => {
    const lines = Array.from({ length: 20_000 }, (_, number) => `{"id":"a${number}","type":"light"}\n`).join('');
    const folder = workspace({
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/all.ndjson }, { folder: content/rest }]\n',
      'model/types/light.yaml': 'type: light\n',
      'model/types/skerry.yaml': 'type: skerry\n',
      'content/all.ndjson': `${lines}{"id":"far-\\u00e5","type":"skerry"}\n{"id":"far-out","type":"skerry"}\n`,
      'content/rest/skerry/farthest.yaml': '{}\n',
    });
    const offered = async (word: string) =>
      (await lumbrik(folder, ['--complete', 'fish', 'show', word], { LUMBRIK_PATIENCE: '60000' })).out
        .split('\n')
        .filter(Boolean);
    expect(await offered('skerry/far')).toEqual(['skerry/far-out', 'skerry/far-å', 'skerry/farthest']);
    expect(await offered('skerry/far-å')).toEqual(['skerry/far-å']);
    expect(await offered('light/a19999')).toEqual(['light/a19999']);
  });
});
