import fs from 'node:fs';
import path from 'node:path';
import { beforeAll, describe, expect, test } from 'vitest';
import { edit, lumbrik, read, root, temporary } from './support/program.ts';

const pages = [
  'README.md',
  'CONTRIBUTING.md',
  ...fs
    .readdirSync(path.join(root, 'docs'), { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.md'))
    .map((name) => `docs/${name.replaceAll(path.sep, '/')}`),
];

/** The lines of the fenced blocks of a text that have no language: what a reader types. */
const typedIn = (text: string): readonly string[] =>
  [...text.matchAll(/^```(\w*)\n([\s\S]*?)^```$/gmu)].flatMap(([, language, block = '']) =>
    language === '' ? block.trim().split('\n') : [],
  );

/** The words of a line as a shell takes them apart; comments are left out. */
const wordsOf = (line: string): readonly string[] =>
  [...line.replace(/\s#\s.*$/u, '').matchAll(/"((?:[^"\\]|\\.)*)"|'([^']*)'|(\S+)/gu)].map(
    ([, double, single, plain]) => double?.replaceAll('\\"', '"') ?? single ?? plain ?? '',
  );

describe('pages of the documentation', () => {
  test('the first five minutes of the README can be followed word for word', async () => {
    const [, walk = ''] = read(root, 'README.md').split('## The first five minutes');
    const [steps = ''] = walk.split('## Where to go next');
    const lines = typedIn(steps);
    expect(lines.length).toBeGreaterThanOrEqual(14);

    const field = /^```yaml\n(?<line>.*\n)```$/mu.exec(steps)?.groups?.line ?? '';
    let folder = temporary();
    for (const line of lines) {
      const [program, ...args] = wordsOf(line);
      if (program === 'cd') {
        folder = path.join(folder, args[0] ?? '');
        continue;
      }
      if (line === 'lumbrik diff') {
        edit(folder, 'model/types/lighthouse.yaml', 'height:', 'focalHeight:');
        edit(folder, 'model/types/lighthouse.yaml', 'max: 300', 'max: 200');
        edit(folder, 'model/types/lighthouse.yaml', /^ {2}visitable:.*\n/mu, `$&${field}`);
      }
      const { code, err } = await lumbrik(folder, args);
      expect([line, code, err]).toEqual([line, 0, '']);
    }
  });

  test.each(['docs/look.md', 'docs/exchange.md'])('%s can be typed in the worked example', async (page) => {
    const folder = path.join(temporary(), 'coast');
    await lumbrik(path.dirname(folder), ['new', 'coast', '--starter', 'lighthouses']);
    await lumbrik(folder, ['seal', '-m', 'one']);
    const lines = typedIn(read(root, page));
    expect(lines.length).toBeGreaterThan(4);

    for (const line of lines) {
      const { code, err } = await lumbrik(folder, wordsOf(line).slice(1));
      expect([line, [0, 1].includes(code ?? 70), code === 1 ? '' : err]).toEqual([line, true, err]);
    }
  });

  test('docs/start.md can be typed in a folder of entries', async () => {
    const folder = temporary();
    fs.cpSync(path.join(root, 'starters/lighthouses/content'), path.join(folder, 'content'), { recursive: true });
    fs.rmSync(path.join(folder, 'content/revision.yaml'), { force: true });
    for (const line of typedIn(read(root, 'docs/start.md'))) {
      const { code } = await lumbrik(folder, [
        ...wordsOf(line).slice(1),
        ...(line === 'lumbrik learn' ? ['--no-ask'] : []),
      ]);
      expect([line, code]).toEqual([line, expect.toBeOneOf([0, 1])]);
    }
  });
});

describe('what the pages name exists', () => {
  const helps = new Map<string, string>();
  const helpOf = async (words: readonly string[]): Promise<string> => {
    const key = words.join(' ');
    if (!helps.has(key)) helps.set(key, (await lumbrik(temporary(), [...words, '--help'])).out);
    return helps.get(key) ?? '';
  };
  let calls: readonly (readonly [page: string, call: string])[] = [];

  beforeAll(() => {
    calls = pages.flatMap((page) => {
      const text = read(root, page);
      const inline = [...text.matchAll(/`(lumbrik [^`]+)`/gu)].map(([, call = '']) => call);
      const fenced = [...text.matchAll(/^(?: {2})?(lumbrik .*)$/gmu)].map(([, call = '']) => call);
      return [...inline, ...fenced].map((call) => [page, call.replace(/\s#\s.*$|\\\|.*$/u, '')] as const);
    });
  });

  test('each command and each option', async () => {
    expect(calls.length).toBeGreaterThan(150);
    for (const [page, call] of calls) {
      const [, ...words] = wordsOf(call);
      const command: string[] = [];
      for (const word of words) {
        if (!/^[a-z]+$/u.test(word) || !(await helpOf(command)).includes(`lumbrik ${[...command, word].join(' ')}`))
          break;
        command.push(word);
      }
      const help = await helpOf(command);
      const isGeneral = words[0] === undefined || /^[<…-]/u.test(words[0]);
      expect([page, call, command.length > 0 || isGeneral]).toEqual([page, call, true]);
      for (const option of words.filter((word) => /^--[a-z]/u.test(word))) {
        const name = option.replace(/[=,.].*$/u, '').replace(/^--no-/u, '--');
        expect([page, call, name, help.includes(name)]).toEqual([page, call, name, true]);
      }
    }
  });

  /** The anchor of a title, as services that show Markdown make it. */
  const anchorOf = (title: string): string =>
    title
      .toLowerCase()
      .replace(/[^\p{L}\p{N}\s-]/gu, '')
      .trim()
      .replace(/\s/gu, '-');

  test('each page, picture and title that a link leads to', () => {
    for (const page of pages)
      for (const [, target = '', anchor] of read(root, page).matchAll(/\]\(([^)#\s]*)(?:#([^)]*))?\)/gu)) {
        if (/^[a-z]+:/u.test(target)) continue;
        const file = target === '' ? page : path.posix.join(path.posix.dirname(page), target);
        expect([page, target, fs.existsSync(path.join(root, file))]).toEqual([page, target, true]);
        if (anchor === undefined) continue;
        const titles = [...read(root, file).matchAll(/^#+ (.*)$/gmu)].map(([, title = '']) => anchorOf(title));
        expect([page, anchor, titles.includes(anchor)]).toEqual([page, anchor, true]);
      }
  });

  test('each file of the code', () => {
    // Named from the root, from src, or from the core; files that an example adds are not there yet.
    const examples = ['isbn.ts', 'dozens.ts'];
    const isThere = (file: string): boolean =>
      ['', 'src', 'src/core'].some((folder) => fs.existsSync(path.join(root, folder, file)));
    const named = pages.flatMap((page) =>
      [...read(root, page).matchAll(/`((?:[\w.-]+\/)+[\w.-]+\.(?:ts|tsx|mjs))`/gu)].map(
        ([, file = '']) => `${page}: ${file}`,
      ),
    );
    expect(named.length).toBeGreaterThan(50);
    expect(
      named.filter((name) => !isThere(name.split(': ')[1] ?? '') && !examples.some((file) => name.endsWith(file))),
    ).toEqual([]);
  });

  test('each variable of the environment', () => {
    const variables = [...read(root, 'docs/team.md').matchAll(/^\| (`[A-Z_`, ]+`) \|/gmu)].flatMap(([, cell = '']) =>
      [...cell.matchAll(/`([A-Z_]+)`/gu)].map(([, name = '']) => name),
    );
    const sources = fs
      .readdirSync(path.join(root, 'src'), { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.ts'))
      .map((name) => read(root, `src/${name}`))
      .join('\n');
    expect(variables.length).toBeGreaterThan(6);
    expect(variables.filter((name) => !sources.includes(name))).toEqual([]);
  });
});
