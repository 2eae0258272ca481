import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, root, temporary } from './support/program.ts';

describe('the first five minutes of the README', () => {
  test('can be followed word for word', async () => {
    const [, walk = ''] = read(root, 'README.md').split('## The first five minutes');
    const [steps = ''] = walk.split('## What there is');
    const typed = [...steps.matchAll(/^```(\w*)\n([\s\S]*?)^```$/gmu)].flatMap(([, language, block = '']) =>
      language === '' ? block.trim().split('\n') : [],
    );
    expect(typed.length).toBeGreaterThanOrEqual(12);
    const fill = /^```yaml\n(?<line>.*\n)```$/mu.exec(steps)?.groups?.line ?? '';
    let folder = temporary();
    for (const line of typed) {
      const [program, ...args] = [...line.matchAll(/"([^"]*)"|(\S+)/gu)].map(
        ([, quoted, word]) => quoted ?? word ?? '',
      );
      if (program === 'cd') {
        folder = path.join(folder, args[0] ?? '');
        continue;
      }
      if (line === 'lumbrik diff') {
        edit(folder, 'model/types/lighthouse.yaml', 'height:', 'focalHeight:');
        edit(folder, 'model/types/lighthouse.yaml', 'max: 300', 'max: 200');
      }
      if (line === 'lumbrik migration rehearse') {
        const file = `migrations/${fs.readdirSync(path.join(folder, 'migrations'))[0]}`;
        edit(folder, file, /^ {4}open: .*\n/mu, '');
        edit(folder, file, /^ {4}open: .*\n/mu, `    ${fill}`);
      }
      const { code, err } = await lumbrik(folder, args);
      expect([line, code, err]).toEqual([line, 0, '']);
    }
  });

  const pages = [
    'README.md',
    'CONTRIBUTING.md',
    ...fs
      .readdirSync(path.join(root, 'docs'))
      .filter((name) => name.endsWith('.md'))
      .map((name) => `docs/${name}`),
  ];

  test('names pictures and pages that are there', () => {
    for (const page of pages)
      for (const [, target = ''] of read(root, page).matchAll(/\]\(([^)#]+)\)/gu))
        expect([page, target, fs.existsSync(path.join(root, path.dirname(page), target))]).toEqual([
          page,
          target,
          true,
        ]);
  });

  test('names files of the code that are there', () => {
    // Named from the root, from src, or from the core; the kind that a newcomer adds is not there yet.
    const isThere = (file: string): boolean =>
      ['', 'src', 'src/core'].some((folder) => fs.existsSync(path.join(root, folder, file)));
    const named = pages.flatMap((page) =>
      [...read(root, page).matchAll(/`((?:[\w.-]+\/)+[\w.-]+\.(?:ts|tsx|mjs))`/gu)].map(
        ([, file = '']) => `${page}: ${file}`,
      ),
    );
    expect(named.length).toBeGreaterThan(50);
    expect(named.filter((one) => !isThere(one.split(': ')[1] ?? '') && !one.endsWith('/isbn.ts'))).toEqual([]);
  });
});
