import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { root, temporary } from './support/program.ts';

const run = (command: string, args: readonly string[], cwd: string) =>
  spawnSync(command, args, {
    cwd,
    encoding: 'utf8',
    env: { PATH: process.env.PATH ?? '', HOME: process.env.HOME ?? '', LANG: 'C.UTF-8' },
  });

describe('the package', () => {
  test('installs into an empty folder without development dependencies, and runs', () => {
    const folder = temporary();
    const packed = run('npm', ['pack', '--ignore-scripts', '--json', '--pack-destination', folder], root);
    const listed = JSON.parse(packed.stdout);
    const [{ filename, files }] = Array.isArray(listed) ? listed : Object.values(listed);
    const names = files.map(({ path: name }: { path: string }) => name);
    expect(names).toContain('dist/cli.js');
    expect(names).toContain('starters/lighthouses/lumbrik.yaml');
    expect(names.filter((name: string) => /^(?:src|test|scripts|bench|docs)\//u.test(name))).toEqual([]);

    fs.writeFileSync(path.join(folder, 'package.json'), '{"private":true}');
    const installed = run(
      'npm',
      ['install', '--omit=dev', '--prefer-offline', '--no-audit', '--no-fund', path.join(folder, filename)],
      folder,
    );
    expect([installed.status, installed.stderr]).toEqual([0, expect.any(String)]);
    const lumbrik = (...args: string[]) => run(path.join(folder, 'node_modules/.bin/lumbrik'), args, folder);
    expect(lumbrik('new', 'coast', '--starter', 'lighthouses').status).toBe(0);
    expect(lumbrik('check', '--workspace', 'coast')).toMatchObject({
      status: 0,
      stdout: expect.stringContaining('72 entries'),
    });
    expect(lumbrik('seal', '-m', 'one', '--workspace', 'coast').status).toBe(0);
  });
});
