import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { git } from './support/git.ts';
import { edit, lumbrik, program, read, result, snapshot, workspace, write } from './support/program.ts';

const files = {
  'lumbrik.yaml': 'workspace: Clocks\ncontent: [{ folder: content }, { lines: content/more.ndjson, type: clock }]\n',
  'model/types/clock.yaml':
    'type: clock\nfields:\n  name: { kind: text, required: true, max: 8 }\n  maker: { kind: reference, to: maker }\n  height: { kind: decimal }\n',
  'model/types/maker.yaml': 'type: maker\nfields:\n  name: { kind: text, max: 8 }\n',
  'content/clock/a.yaml': 'name: A\nmaker: m\n',
  'content/clock/b.yaml': 'name: far too long\nmaker: m\nheight: 12\n',
  'content/clock/große uhr.yaml': 'maker: nobody\n',
  'content/maker/m.yaml': 'name: M\n',
  'content/more.ndjson': '{"id":"x","name":"X","maker":"m"}\n{"id":"y","name":"also too long"}\n',
};
const names = (found: { findings: readonly { entry?: string; finding: string }[] }): readonly string[] =>
  found.findings.map(({ entry, finding }) => `${entry} ${finding}`).sort();
const b = 'clock/b too-long';
const y = 'clock/y too-long';
const large = ['clock/große uhr dangling-reference', 'clock/große uhr required-missing'];

function repository(more: Readonly<Record<string, string>> = {}): string {
  const folder = workspace({ ...files, ...more });
  git(folder, 'init', '-q');
  git(folder, 'add', '-A');
  git(folder, 'commit', '-qm', 'one');
  return folder;
}

describe('a check of a part [I1]', () => {
  test.each([
    [['clock'], [b, ...large, y], 5],
    [['maker'], [], 1],
    [['clock/b'], [b], 1],
    [['clock/große uhr', 'clock/y'], [...large, y], 2],
    [['content/clock/b.yaml'], [b], 1],
    [['./content/clock'], [b, ...large], 3],
    [['content/more.ndjson', 'maker'], [y], 3],
    [['--where', 'has(entry.height) && entry.height > 10.0'], [b], 1],
    [['--where', 'entry.name == "M"'], [], 1],
    [['clock', '--where', 'entry.id == "y"'], [y], 1],
  ])('%j', async (args, found, entries) => {
    const told = await result(workspace(files), ['check', ...args]);
    expect([names(told), told.entries]).toEqual([[...found].sort(), entries]);
  });

  test('what cannot be read may be any of them, and is never left out, known or declined', async () => {
    const folder = workspace({ ...files, 'content/clock/a.yaml': 'name: [\n' });
    for (const args of [['maker'], ['clock/b'], ['--where', 'entry.name == "M"'], ['--baseline']]) {
      const told = await result(folder, ['check', ...args]);
      expect([args, told.code, told.findings[0]?.finding]).toEqual([args, 1, 'unreadable-file']);
    }
    expect((await result(folder, ['check', 'content/maker'])).findings).toEqual([]);
    expect(names(await result(folder, ['check']))).toEqual(['undefined unreadable-file']);
  });

  test('what is not there, and what is no condition, is refused', async () => {
    const folder = workspace(files);
    for (const args of [
      ['clok'],
      ['content/nowhere'],
      ['../elsewhere'],
      ['--where', 'entry.nothing == 1'],
      ['--where', 'entry.name'],
      ['--changed-since', 'main'],
      ['clock', '--baseline'],
    ])
      expect([args, (await result(folder, ['check', ...args])).code]).toEqual([args, 2]);
  });

  test('what changed since a commit, and what points at that', async () => {
    const folder = repository();
    const since = async () => {
      const told = await result(folder, ['check', '--changed-since', 'HEAD']);
      return [names(told), told.entries];
    };
    expect(await since()).toEqual([[], 0]);
    edit(folder, 'content/more.ndjson', 'also too long', 'still too long');
    expect(await since()).toEqual([[y], 1]);
    write(folder, { 'content/clock/new.yaml': 'name: new and long\n' });
    expect(await since()).toEqual([['clock/new too-long', y], 2]);
    // Whatever pointed at it leads nowhere now.
    fs.rmSync(path.join(folder, 'content/maker/m.yaml'));
    expect(await since()).toEqual(
      [
        [
          'clock/a dangling-reference',
          'clock/b dangling-reference',
          b,
          'clock/new too-long',
          'clock/x dangling-reference',
          y,
        ],
        5,
      ].map((one) => (Array.isArray(one) ? [...one].sort() : one)),
    );
    edit(folder, 'model/types/maker.yaml', 'max: 8', 'max: 9');
    expect((await since())[1]).toBe(6);
  });

  test('a file as an editor has it, not saved yet', () => {
    const folder = workspace(files);
    const before = snapshot(folder);
    const ask = (file: string, text: string) => {
      const args = [program, 'check', '--stdin', file, '--format', 'json'];
      const { findings } = JSON.parse(String(spawned(args, folder, text)));
      return findings.map(({ finding, line, column }: { finding: string; line: number; column: number }) => [
        finding,
        line,
        column,
      ]);
    };
    expect(ask('content/clock/b.yaml', 'name: B\nmaker: m\n')).toEqual([]);
    expect(ask('content/clock/b.yaml', '\nname: B\nmaker: n\nmore: 1\n')).toEqual([
      ['dangling-reference', 3, 8],
      ['unknown-field', 4, 7],
    ]);
    expect(ask('content/clock/new.md', '---\nname: N\nmaker: [\n---\n')[0]?.[0]).toBe('unreadable-file');
    expect(ask('content/maker/z.json', '{ "name": 1 }')).toEqual([['wrong-shape', 1, 11]]);
    expect(snapshot(folder)).toEqual(before);
  });

  test.each([
    [['--fix', '--format', 'sarif'], 'Take text or json'],
    [['--since', '1', '--format', 'junit'], 'Take text or json'],
    [['--watch', '--format', 'lines'], 'Leave it out'],
    [['--fix', '--max-warnings', '1'], 'do not go together'],
    [['--since', '1', '--max-warnings', '1'], 'do not go together'],
    [['--fix', '--limit', '1'], 'do not go together'],
    [['--stdin', 'content/clock/b.yaml', '--where', 'true'], 'do not go together'],
    [['--stdin', 'content/clock/b.yaml', '--changed-since', 'HEAD'], 'do not go together'],
    [['clock', '--stdin', 'content/clock/b.yaml'], 'Leave out “clock”'],
    [['clock', 'maker/m', '--fix'], 'Leave out “clock” and “maker/m”'],
  ])('%j is refused: what would be passed over in silence', async (args, says) => {
    const { code, err } = await lumbrik(workspace(files), ['check', ...args]);
    expect([code, err]).toEqual([2, expect.stringContaining(says)]);
  });
});

function spawned(args: readonly string[], cwd: string, input: string): Buffer {
  try {
    return execFileSync(process.execPath, args, { cwd, input });
  } catch (error) {
    return (error as { stdout: Buffer }).stdout;
  }
}

describe('what a workspace makes of findings [I5]', () => {
  const settings = (said: string) => ({ ...files, 'lumbrik.yaml': `${files['lumbrik.yaml']}findings:\n${said}` });

  test('how bad they are', async () => {
    const folder = workspace(
      settings('  severity: { too-long: warning, dangling-reference: ignore, required-missing: warning }\n'),
    );
    const told = await result(folder, ['check']);
    expect([told.code, told.ok, told.ignored]).toEqual([0, true, 1]);
    expect(told.findings.map(({ severity }: { severity: string }) => severity)).toEqual([
      'warning',
      'warning',
      'warning',
    ]);
    expect((await result(folder, ['check', '--max-warnings', '2'])).code).toBe(1);
    expect((await result(folder, ['check', '--max-warnings', '3'])).code).toBe(0);
    edit(folder, 'lumbrik.yaml', 'findings:\n', 'findings:\n  maxWarnings: 1\n');
    const { code, out } = await lumbrik(folder, ['check']);
    expect([code, out.includes('3 warnings, and at most 1 is allowed')]).toEqual([1, true]);
  });

  test('what is declined, with the reason; and that it is not found any more', async () => {
    const folder = workspace(
      settings(
        '  declined:\n    - { finding: too-long, field: clock.name, because: The labels are that wide. }\n    - { finding: dangling-reference, entry: clock/große uhr, because: He is looked for. }\n    - { finding: unused-asset, file: assets/old.png, because: Kept. }\n',
      ),
    );
    const told = await result(folder, ['check']);
    expect(names(told)).toEqual(['clock/große uhr required-missing']);
    expect(told.declined.map(({ at, count }: { at: string; count: number }) => [at, count])).toEqual([
      ['clock.name', 2],
      ['clock/große uhr', 1],
      ['assets/old.png', 0],
    ]);
    const { out } = await lumbrik(folder, ['check']);
    expect(out).toContain('since The labels are that wide.');
    expect(out).toContain('declined and not found any more: unused-asset at assets/old.png');
  });

  test('what cannot be said', async () => {
    for (const said of [
      '  severity: { unreadable-file: ignore }\n',
      '  declined: [{ finding: unreadable-file, file: a.yaml, because: x }]\n',
      '  severity: { too-lon: ignore }\n',
      '  severity: { too-long: bad }\n',
      '  declined: [{ finding: too-long, because: x }]\n',
      '  declined: [{ finding: too-long, entry: a/b, field: a.b, because: x }]\n',
      '  declined: [{ finding: too-long, entry: a/b }]\n',
    ])
      expect([said, (await result(workspace(settings(said)), ['check'])).code]).toEqual([said, 2]);
  });

  test('a baseline: only what is new fails, and what is gone leaves it', async () => {
    const folder = workspace(files);
    expect(await result(folder, ['check', '--baseline'])).toMatchObject({ recorded: 4, code: 0, findings: [] });
    expect(read(folder, 'baseline.ndjson').split('\n').length).toBe(5);
    expect(await result(folder, ['check'])).toMatchObject({ known: 4, gone: 0, findings: [], code: 0 });
    // Moving in the file changes nothing; another one of the same kind is new.
    edit(folder, 'content/clock/b.yaml', 'name:', '# moved\nname:');
    write(folder, { 'content/clock/c.yaml': 'name: long as well\n' });
    const told = await result(folder, ['check']);
    expect([names(told), told.known, told.code]).toEqual([['clock/c too-long'], 4, 1]);
    // A part says nothing of what is gone elsewhere.
    edit(folder, 'content/clock/b.yaml', 'far too long', 'short');
    expect((await result(folder, ['check', 'maker'])).gone).toBe(0);
    expect(await result(folder, ['check'])).toMatchObject({ known: 3, gone: 1 });
    expect(read(folder, 'baseline.ndjson').split('\n').length).toBe(4);
    edit(folder, 'content/clock/b.yaml', 'short', 'far too long');
    expect(names(await result(folder, ['check']))).toEqual([b, 'clock/c too-long']);
    write(folder, { 'baseline.ndjson': '<<<<<<< ours\n' });
    expect((await result(folder, ['check'])).code).toBe(2);
    expect(await result(folder, ['check', '--baseline'])).toMatchObject({ recorded: 5, code: 0 });
  });
});
