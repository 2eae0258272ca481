import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { parse } from 'yaml';
import { tryGit } from './support/git.ts';
import { edit, lumbrik, program, read, result, temporary } from './support/program.ts';

describe('what lumbrik new writes beside a starter [I5]', () => {
  test('a hook that lets only right entries be committed', async () => {
    const folder = path.join(temporary(), 'coast');
    const { files } = await result(temporary(), ['new', folder, '--starter', 'lighthouses', '--with', 'hook']);
    expect(files).toContain('.githooks/pre-commit');
    const bin = temporary();
    fs.writeFileSync(path.join(bin, 'lumbrik'), `#!/bin/sh\nexec ${process.execPath} ${program} "$@"\n`, {
      mode: 0o755,
    });
    const env = { ...process.env, PATH: `${bin}${path.delimiter}${process.env.PATH}` };
    const git = (...args: string[]) => tryGit(folder, args, env);
    git('init', '-q');
    git('config', 'core.hooksPath', '.githooks');
    git('add', '-A');
    expect(git('commit', '-qm', 'one').status).toBe(0);
    const [light = ''] = fs.readdirSync(path.join(folder, 'content/lighthouse')).filter((name) => name.endsWith('.md'));
    edit(folder, `content/lighthouse/${light}`, '---\n', '---\nnothing: 1\n');
    git('add', '-A');
    const refused = git('commit', '-qm', 'two');
    expect([
      refused.status,
      refused.stdout.includes('unknown-field') || refused.stderr.includes('unknown-field'),
    ]).toEqual([1, true]);
    edit(folder, `content/lighthouse/${light}`, 'nothing: 1\n', '');
    fs.writeFileSync(path.join(folder, 'content/lighthouse/note.txt'), 'x');
    git('add', '-A');
    expect(git('commit', '-qm', 'three').status).toBe(0);
  });

  test('a workflow whose steps are calls that there are', async () => {
    const folder = path.join(temporary(), 'coast');
    await lumbrik(temporary(), ['new', folder, '--starter', 'lighthouses', '--with', 'build,hook']);
    const { jobs } = parse(read(folder, '.github/workflows/content.yml'));
    const runs = jobs.check.steps.flatMap(({ run }: { run?: string }) =>
      run?.includes('lumbrik ') && !run.includes('npm') ? [run] : [],
    );
    expect(runs.length).toBe(4);
    tryGit(folder, ['init', '-q']);
    for (const run of runs) {
      const args = run
        .replace(/^lumbrik | (?:\|\||>>?) .*$/gu, '')
        .replaceAll('"', '')
        .replace(/commit:\S+/u, 'working');
      const { err } = await lumbrik(folder, args.split(' '));
      expect([run, err.includes('Unknown') || err.includes('There is no option')]).toEqual([run, false]);
    }
    expect((await lumbrik(temporary(), ['new', 'x', '--with', 'wings'])).code).toBe(2);
  });
});
