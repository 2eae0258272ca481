import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { folderOfNode, hasNodes, supportedNodes } from './support/nodes.ts';
import { plainEnv, program, root, temporary } from './support/program.ts';

const { version } = JSON.parse(fs.readFileSync(path.join(root, 'package.json'), 'utf8'));

const run = (command: string, args: readonly string[], cwd: string, env: Readonly<Record<string, string>> = {}) =>
  spawnSync(command, args, {
    cwd,
    encoding: 'utf8',
    env: { PATH: process.env.PATH ?? '', HOME: process.env.HOME ?? '', LANG: 'C.UTF-8', ...env },
  });

interface Packed {
  readonly filename: string;
  readonly files: readonly { readonly path: string }[];
  readonly unpackedSize: number;
}

describe('the package', () => {
  let folder = '';
  let packed: Packed;
  let tarball = '';
  beforeAll(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), 'lumbrik-package-'));
    const listed = JSON.parse(
      run('npm', ['pack', '--ignore-scripts', '--json', '--pack-destination', folder], root).stdout,
    );
    [packed] = Array.isArray(listed) ? listed : Object.values<Packed>(listed);
    tarball = path.join(folder, packed.filename);
  });
  afterAll(() => fs.rmSync(folder, { recursive: true, force: true }));

  test('holds the program, what it ships and what is written of it, and no more', () => {
    const names = packed.files.map((file) => file.path);
    expect(names).toEqual(expect.arrayContaining(['dist/cli.js', 'starters/lighthouses/lumbrik.yaml', 'LICENSE']));
    expect(names.filter((name) => /^(?:src|test|scripts|bench)\/|\.map$/u.test(name))).toEqual([]);
    expect(packed.unpackedSize).toBeLessThan(8e6);
    expect(JSON.parse(fs.readFileSync(path.join(root, 'package.json'), 'utf8')).dependencies).toBeUndefined();
  });

  test('every link of its pages leads to something in it, but for those for whoever works on the sources', () => {
    const names = new Set(packed.files.map((file) => file.path));
    const forSources = ['CONTRIBUTING.md', 'docs/contributing/'];
    const pages = [...names]
      .filter((name) => /^[^/]+\.md$|^docs\//u.test(name) && name.endsWith('.md'))
      .filter((name) => !forSources.some((start) => name.startsWith(start)));
    expect(pages.length).toBeGreaterThan(8);
    for (const page of pages)
      for (const [, link = ''] of fs.readFileSync(path.join(root, page), 'utf8').matchAll(/\]\(([^)#\s]+)/gu))
        if (!/^[a-z]+:/u.test(link))
          expect([page, path.posix.join(path.posix.dirname(page), link)]).toEqual([
            page,
            expect.toSatisfy((file: string) => names.has(file)),
          ]);
  });

  test('carries the licence of every package that is bundled into it', () => {
    const notices = fs.readFileSync(path.join(root, 'dist/NOTICES.txt'), 'utf8');
    const sources = fs
      .readdirSync(path.join(root, 'dist'), { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.map'))
      .flatMap((name): string[] => JSON.parse(fs.readFileSync(path.join(root, 'dist', name), 'utf8')).sources);
    const bundled = new Set(
      sources.flatMap((source) => /.*\/node_modules\/((?:@[^/]+\/)?[^/]+)/u.exec(source)?.[1] ?? []),
    );
    expect(bundled.size).toBeGreaterThan(100);
    for (const name of bundled) {
      const notice = notices.split(`\n${name} `)[1]?.split('─'.repeat(40))[0] ?? '';
      expect([name, notice]).toEqual([name, expect.stringMatching(/copyright|licen[cs]e/iu)]);
      expect([name, notice.length > 400]).toEqual([name, true]);
    }
  });

  const nodes = hasNodes ? supportedNodes : [process.versions.node];
  test.each(nodes)(
    'installs into an empty folder and runs on Node %s',
    (node) => {
      const place = path.join(temporary(), 'a b#c%20é');
      fs.mkdirSync(place);
      fs.writeFileSync(path.join(place, 'package.json'), '{"private":true}');
      const bin = hasNodes ? `${folderOfNode(node)}:` : '';
      const env = { PATH: `${bin}${process.env.PATH}`, XDG_CACHE_HOME: temporary(), XDG_STATE_HOME: temporary() };
      const call = (command: string, ...args: string[]) => run(command, args, place, env);
      const inThreads = { ...env, LUMBRIK_THREADS: '2' };
      expect(call('node', '--version').stdout.trim()).toBe(`v${node}`);
      const installed = call('npm', 'install', '--offline', '--no-audit', '--no-fund', '--no-update-notifier', tarball);
      expect([installed.status, installed.stdout]).toEqual([0, expect.stringContaining('added 1 package')]);
      const lumbrik = (...args: string[]) => {
        const { status, stdout, stderr } = call(path.join(place, 'node_modules/.bin/lumbrik'), ...args);
        expect([args, status, stderr]).toEqual([args, 0, '']);
        return stdout;
      };
      expect(lumbrik('--version')).toBe(`${version}\n`);
      lumbrik('new', 'coast', '--starter', 'lighthouses');
      const there = ['--workspace', 'coast'];
      const checked = run(path.join(place, 'node_modules/.bin/lumbrik'), ['check', ...there], place, inThreads);
      expect([checked.status, checked.stdout]).toEqual([0, expect.stringContaining('72 entries')]);
      expect(lumbrik('--complete', 'bash', 'lumbrik sh')).toContain('show');
      expect(lumbrik('map', ...there, '--format', 'svg')).toContain('</svg>');
      lumbrik('report', ...there, '--out', 'model.html');
      expect(fs.readFileSync(path.join(place, 'model.html'), 'utf8')).toContain('</html>');
    },
    600_000,
  );

  test.runIf(hasNodes)('what one Node keeps of it is nothing to another, however alike', () => {
    const [lowest, later] = supportedNodes;
    const env = { ...plainEnv, XDG_CACHE_HOME: temporary(), XDG_STATE_HOME: temporary() };
    for (const node of [lowest, later, lowest, later, lowest]) {
      const ran = run(path.join(folderOfNode(node), 'node'), [program, 'check', '--help'], root, env);
      expect([node, ran.status, ran.stdout]).toEqual([node, 0, expect.stringContaining('lumbrik check')]);
    }
  });
});
