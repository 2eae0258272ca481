import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { copyOf, done, ready, rehearsed, runOf } from './support/migrated.ts';
import { lumbrik, read, result, snapshot, temporary, workspace, write } from './support/program.ts';

/** A folder elsewhere that holds something. */
function elsewhere(): string {
  const folder = temporary();
  write(folder, { 'precious/a.txt': 'ours', 'b.txt': 'ours too' });
  return folder;
}

const everything = (folder: string) =>
  fs
    .readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .sort()
    .map((name) => {
      const stat = fs.lstatSync(path.join(folder, name));
      return [name, stat.mtimeMs, stat.isFile() ? read(folder, name) : ''];
    });

const commands: readonly (readonly string[])[] = [
  ['check'],
  ['show'],
  ['history'],
  ['diff'],
  ['seal', '-m', 'x'],
  ['add', 'field', 'light', 'range', '--kind', 'integer'],
  ['entry', 'new', 'light', 'z'],
  ['entry', 'revision', '1'],
  ['schemas'],
  ['migration', 'list'],
  ['migration', 'draft'],
  ['migration', 'rehearse'],
  ['migration', 'run'],
  ['migration', 'undo'],
];

describe('nothing of the tool’s own is followed through a link [M2]', () => {
  test.each([
    ['.lumbrik'],
    ['.lumbrik/runs'],
    ['.lumbrik/staging'],
    ['.lumbrik/rehearsals'],
    ['.lumbrik/damaged'],
    ['.lumbrik/lock'],
    ['.lumbrik/change.json'],
    ['.lumbrik/.gitignore'],
    ['.lumbrik/memory'],
    ['.lumbrik/memory/model'],
  ])('%s as a link to a folder elsewhere, a file, or nothing', async (place) => {
    const start = await done();
    for (const target of ['', 'b.txt', 'not-there']) {
      const outside = elsewhere();
      const folder = copyOf(start);
      fs.rmSync(path.join(folder, place), { recursive: true, force: true });
      fs.mkdirSync(path.dirname(path.join(folder, place)), { recursive: true });
      fs.symlinkSync(path.join(outside, target), path.join(folder, place));
      const before = everything(outside);
      for (const args of commands) {
        const { code, err } = await lumbrik(folder, args);
        expect([place, target, args, code === 70, err.includes('fault')]).toEqual([place, target, args, false, false]);
        expect([place, target, args, everything(outside)]).toEqual([place, target, args, before]);
      }
    }
  });

  test('a link inside a journal, or where a file is written before it takes its place', async () => {
    const outside = elsewhere();
    const folder = await ready();
    write(folder, { '.lumbrik/runs/.keep': '' });
    fs.rmSync(path.join(folder, '.lumbrik/runs'), { recursive: true });
    fs.symlinkSync(path.join(outside, 'b.txt'), path.join(folder, 'content/light/.a.yaml.lumbrik-new'));
    fs.mkdirSync(path.join(folder, 'content/lighthouse'));
    fs.symlinkSync(path.join(outside, 'b.txt'), path.join(folder, 'content/lighthouse/.a.yaml.lumbrik-new'));
    fs.symlinkSync(path.join(outside, 'b.txt'), path.join(folder, '.lumbrik/.change.json.lumbrik-new'));
    const before = everything(outside);
    expect((await result(folder, ['migration', 'run'])).code).toBe(0);
    const state = path.join(folder, runOf(folder), 'state');
    fs.rmSync(state);
    fs.symlinkSync(path.join(outside, 'b.txt'), state);
    expect((await result(folder, ['migration', 'undo'])).code).toBe(0);
    expect(everything(outside)).toEqual(before);
  });
});

/** A journal's plan with something else in it, its checksum right: what somebody would send who means harm. */
function forged(folder: string, change: (plan: any) => void): void {
  const file = path.join(folder, runOf(folder), 'plan.json');
  const { madeBy, plan } = JSON.parse(fs.readFileSync(file, 'utf8'));
  change(plan);
  const body = JSON.stringify(plan);
  const checksum = createHash('sha256').update(body).digest('hex');
  fs.writeFileSync(file, `{"checksum":"${checksum}","madeBy":"${madeBy}","plan":${body}}\n`);
}

describe('a journal reaches no further than a run may [H6] [M2]', () => {
  test.each([
    '../outside/x',
    'content/../../outside/x',
    '/etc/x',
    'content/light/../../model/types/light.yaml',
    'model/types/light.yaml',
    '.git/config',
    'content/.hidden',
    'content\\..\\x',
    'content/',
    '',
  ])('as %s', async (place) => {
    const folder = await done();
    const outside = path.join(path.dirname(folder), 'outside');
    forged(folder, (plan) => {
      plan.files[0].before.path = place;
    });
    const before = snapshot(folder);
    const { code, error } = await result(folder, ['migration', 'undo', '--from-elsewhere']);
    expect([code, error.code]).toEqual([3, 'damaged-journal']);
    expect(snapshot(folder)).toEqual(before);
    expect(fs.existsSync(outside)).toBe(false);
  });

  test('nor does the name of what it keeps', async () => {
    const folder = await done();
    forged(folder, (plan) => {
      plan.files[0].before.hash = '../../../../etc/passwd';
    });
    expect((await result(folder, ['migration', 'undo', '--from-elsewhere'])).error.code).toBe('damaged-journal');
  });

  test('nor through a link that stands where a file was', async () => {
    const folder = await done();
    const outside = elsewhere();
    fs.rmSync(path.join(folder, 'content/light'), { recursive: true });
    fs.symlinkSync(outside, path.join(folder, 'content/light'));
    const before = everything(outside);
    expect(await result(folder, ['migration', 'undo'])).toMatchObject({ code: 2, error: { code: 'symbolic-link' } });
    expect(everything(outside)).toEqual(before);
  });
});

describe('a journal that came along with a folder', () => {
  const elsewhereEnv = () => ({ XDG_STATE_HOME: temporary() });

  test('is recognised, and acted on only when a person says so', async () => {
    const folder = await done();
    const before = snapshot(folder);
    const env = elsewhereEnv();
    const refused = await lumbrik(folder, ['migration', 'undo'], env);
    expect(refused.code).toBe(3);
    expect(refused.err).toContain('was not made here');
    expect(refused.err).toContain('--from-elsewhere');
    expect(snapshot(folder)).toEqual(before);
    expect((await lumbrik(folder, ['migration', 'undo', '--from-elsewhere'], env)).code).toBe(0);
    expect(read(folder, 'content/light/a.yaml')).toBe('name: A\nold: x\n');
  });

  test('is no other when its plan was changed and its checksum made right again', async () => {
    const folder = await done();
    forged(folder, (plan) => {
      plan.files[0].entry = 'light/b';
    });
    expect((await result(folder, ['migration', 'undo'])).error.code).toBe('made-elsewhere');
  });

  test('is our own in a folder that was merely moved', async () => {
    const folder = await done();
    const moved = path.join(temporary(), 'moved');
    fs.renameSync(folder, moved);
    expect((await result(moved, ['migration', 'undo'])).code).toBe(0);
    fs.mkdirSync(folder);
  });

  test('of a small change that was stopped is moved aside, and nothing of it is done', async () => {
    const folder = workspace({ 'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n' });
    const body = JSON.stringify({ files: [{ after: { path: 'content/light/x.yaml', hash: 'x', text: 'name: X\n' } }] });
    const checksum = createHash('sha256').update(body).digest('hex');
    write(folder, { '.lumbrik/change.json': `{"checksum":"${checksum}","plan":${body}}\n` });
    expect(await result(folder, ['check'])).toMatchObject({ code: 3, error: { code: 'unfinished-change' } });
    expect(fs.existsSync(path.join(folder, 'content'))).toBe(false);
    expect(fs.existsSync(path.join(folder, '.lumbrik/damaged/change.json'))).toBe(true);
    expect((await result(folder, ['check'])).code).toBe(0);
  });
});

describe('what should be a folder or a file of the tool’s own, and is something else [M2]', () => {
  test.each([
    ['.lumbrik', 'file'],
    ['.lumbrik/runs', 'file'],
    ['.lumbrik/staging', 'file'],
    ['.lumbrik/lock', 'folder'],
    ['.lumbrik/change.json', 'folder'],
    ['.lumbrik/memory', 'file'],
    ['.lumbrik/memory/model', 'file'],
  ])('%s as a %s is said in words', async (place, what) => {
    const folder = await rehearsed();
    fs.rmSync(path.join(folder, place), { recursive: true, force: true });
    if (what === 'file') write(folder, { [place]: 'x' });
    else fs.mkdirSync(path.join(folder, place), { recursive: true });
    for (const args of commands) {
      const { code, err } = await lumbrik(folder, args);
      expect([place, args, code === 70, err.includes('fault')]).toEqual([place, args, false, false]);
    }
  });
});

describe.runIf(fs.existsSync('/proc/self'))('where the system takes no folder nothing is tried for ever [M2]', () => {
  test.each([
    'new /proc/none/w',
    'export typescript --out /proc/none/a/x.ts',
    'export entries --as json --out /proc/none/a/x.json',
    'export entries --as markdown --out /proc/none/a',
    'learn content --copy --out /proc/none/w',
    'report --out /proc/none/a/x.html',
  ])('%s', async (args) => {
    const folder = workspace({
      'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n',
      'content/light/a.yaml': 'name: A\n',
    });
    const { code, err } = await lumbrik(folder, args.split(' '));
    expect([code, err.includes('/proc/none')]).toEqual([2, true]);
  });
});

describe('a file that is named for output [M2]', () => {
  test.each<readonly string[]>([
    ['export', 'typescript', '--out'],
    ['export', 'skos', '--out'],
    ['export', 'entries', '--as', 'csv', '--out'],
    ['export', 'entries', '--as', 'ndjson', '--out'],
    ['report', '--out'],
    ['export', 'openapi', '--out'],
  ])('%s %s %s … follows no link in the workspace', async (...args) => {
    const folder = await ready();
    write(folder, { 'model/taxonomies/area.yaml': 'taxonomy: area\nterms: [north]\n' });
    const outside = elsewhere();
    const before = everything(outside);
    fs.symlinkSync(outside, path.join(folder, 'linked'));
    fs.symlinkSync(path.join(outside, 'not-there'), path.join(folder, 'new'));
    for (const out of ['linked/x', 'linked/precious/x', 'new', './linked/../linked/x']) {
      const { code, err } = await lumbrik(folder, [...args.filter(Boolean), out]);
      expect([out, code, err]).toEqual([out, 2, expect.stringContaining('links are never followed')]);
    }
    expect(everything(outside)).toEqual(before);
    // What a person names outside is theirs to name.
    const { code } = await lumbrik(folder, [...args.filter(Boolean), path.join(outside, 'x')]);
    expect([0, 1]).toContain(code);
    expect(fs.existsSync(path.join(outside, 'x'))).toBe(true);
  });
});
