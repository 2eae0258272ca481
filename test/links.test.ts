import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { schemeOf, targetOf } from '../src/core/text/links.ts';
import { loadLinkReader } from '../src/core/text/markdownLinks.ts';
import { readLinks } from '../src/core/text/readLinks.ts';
import { png } from './support/pictures.ts';
import { edit, lumbrik, read, result, workspace, write } from './support/program.ts';

/** A light whose story is Markdown, and which has a tree of structured text. */
const model = (more = '') => ({
  'model/types/light.yaml': `type: light
fields:
  story: { kind: markdown, body: true${more} }
  notes: { kind: markdown, many: true, localized: true }
  tree: { kind: richText, embeds: [light], media: [image/*], links: { entries: [light] } }
`,
});
const tree = (...nodes: object[]): string =>
  `tree: ${JSON.stringify({ type: 'root', children: [{ type: 'paragraph', children: nodes }] })}`;
const entry = (story: string, front = ''): string => `---\n${front}\n---\n${story}\n`;

async function found(story: string, { front = '', more = '' } = {}): Promise<readonly string[]> {
  const folder = workspace({
    ...model(more),
    'content/light/b.yaml': '{}\n',
    'content/light/a.md': entry(story, front),
  });
  write(folder, { 'assets/photos/a b.png': png(4, 4) });
  const { findings } = await result(folder, ['check']);
  return findings.map(({ finding, severity, pointer, says }: any) => `${severity} ${finding} ${pointer}: ${says}`);
}

const unused = 'warning unused-asset : is used by no entry';

describe('pictures and links inside Markdown are assets, references and addresses like any other [C4, E2]', () => {
  test.each<[string, readonly string[]]>([
    ['![A tower](photos/a%20b.png) and [b](entry:light/b) and [w](https://a.example/x?y#z).', []],
    ['![A tower](<../../assets/photos/a b.png>)', []],
    ['<img src="/assets/photos/a b.png" alt="A tower">', []],
    ['[the plan](assets/photos/a%20b.png)', []],
    ['![A tower][t]\n\n[t]: <photos/a b.png> "T"', []],
    [
      '![](photos/a%20b.png)',
      ['warning alt-missing /story: shows photos/a%20b.png without words for people who cannot see it'],
    ],
    [
      '![A](photos/gone.png)',
      ['error missing-asset /story: names the file photos/gone.png, and there is none in assets/', unused],
    ],
    ['[x](javascript:alert)', ['error link-target /story: leads to an address that starts with javascript:', unused]],
    [
      '[x](&#106;avascript:alert)',
      ['error link-target /story: leads to an address that starts with javascript:', unused],
    ],
    ['[x](JaVa\\script:alert)', [unused]],
    [
      `<div <a "'>\n<a href=javascript:alert>`,
      ['error link-target /story: leads to an address that starts with javascript:', unused],
    ],
    ['<javascript:alert>', ['error link-target /story: leads to an address that starts with javascript:', unused]],
    ['![A](data:text/html,x)', ['error link-target /story: leads to an address that starts with data:', unused]],
    [
      '<a href="java\tscript:alert">x</a>',
      ['error link-target /story: leads to an address that starts with javascript:', unused],
    ],
    [
      '[x](entry:light/gone)',
      ['error dangling-reference /story: points at light/gone, and there is no such entry', unused],
    ],
    ['[x](entry:light)', ['error link-target /story: leads to entry:light, which names no entry', unused]],
    ['`[x](javascript:alert)`\n\n```\n![](gone.png)\n```\n\n    [x](entry:light/gone)\n\nentry:light/gone', [unused]],
  ])('%s', async (story, expected) => {
    expect([...(await found(story))].sort()).toEqual([...expected].sort());
  });

  test.each([
    ['tags that never end', '<a '],
    ['quotes that never end', '<a "'],
    ['names without values', 'a'],
    ['openings', '<'],
  ])('%s take no longer the more there are of them', async (_name, part) => {
    const story = `<div ${part.repeat(100_001)}>\n\n[x](javascript:alert)`;
    expect((await found(story)).join('\n')).toContain('javascript:');
  });

  test('in a list, in each language, and as the model narrows it', async () => {
    expect(await found('x', { front: 'notes: { en: ["a", "![A](gone.png)"] }' })).toEqual([
      unused,
      'error missing-asset /notes/en/1: names the file gone.png, and there is none in assets/',
    ]);
    expect(
      await found('[x](entry:light/b) [y](ftp://a.example)', {
        more: ', links: { schemes: [ftp], entries: [keeper] }',
      }),
    ).toEqual([]);
  });

  test('trace and show know them, a type that gets another name is renamed in them, and undo brings them back', async () => {
    const story =
      '[b](entry:light/b), [c][d], <entry:light/b>, `[x](entry:light/b)` entry:light/b\n\n[d]: entry:light/b';
    const folder = workspace({ ...model(), 'content/light/b.yaml': '{}\n', 'content/light/a.md': entry(story) });
    const { pointedAtBy } = await result(folder, ['trace', 'light/b']);
    expect(pointedAtBy.next.map(({ node }: any) => node.entry)).toEqual(['light/a', 'light/a', 'light/a']);
    expect((await result(folder, ['trace', 'light/b', '--deleting'])).dangling[0]).toMatchObject({ required: false });
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/light.yaml', 'type: light', 'type: lamp');
    edit(folder, 'model/types/light.yaml', /\[light\]/gu, '[lamp]');
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'light=lamp']);
    await lumbrik(folder, ['migration', 'rehearse']);
    expect((await result(folder, ['migration', 'run'])).error).toBeUndefined();
    expect(read(folder, 'content/lamp/a.md')).toContain(
      '[b](entry:lamp/b), [c][d], <entry:lamp/b>, `[x](entry:lamp/b)` entry:light/b\n\n[d]: entry:lamp/b',
    );
    expect((await result(folder, ['check'])).findings).toEqual([]);
    await lumbrik(folder, ['migration', 'undo']);
    expect(read(folder, 'content/light/a.md')).toContain(story);
  });
});

describe('and so are those of structured text', () => {
  const link = (url: string): object => ({ type: 'link', url, children: [{ type: 'text', value: 'x' }] });
  const picture = (url: string, alt?: string): object => ({
    type: 'image',
    url,
    ...(alt === undefined ? {} : { alt }),
  });
  test.each<[string, object, readonly string[]]>([
    ['a picture that is there', picture('photos/a b.png', 'A'), []],
    ['one that is not', picture('gone.png', 'A'), ['missing-asset /tree/children/0/children/0/url', 'unused-asset ']],
    ['one without words', picture('photos/a b.png', ''), ['alt-missing /tree/children/0/children/0']],
    ['a script address', picture('javascript:x', 'A'), ['link-target /tree/children/0/children/0', 'unused-asset ']],
    ['a hidden one', link(' \u0001java\nscript:x'), ['link-target /tree/children/0/children/0', 'unused-asset ']],
    ['an asset that is embedded', { type: 'embedInline', asset: 'photos/a b.png', alt: 'A' }, []],
    [
      'one without words, embedded',
      { type: 'embedInline', asset: 'photos/a b.png' },
      ['alt-missing /tree/children/0/children/0'],
    ],
    ['a link to an asset', link('assets/photos/a b.png'), []],
  ])('%s', async (_what, node, expected) => {
    const all = await found('x', { front: tree(node) });
    expect(all.map((one) => one.replace(/^\w+ ([\w-]+ [^:]*):.*$/u, '$1')).sort()).toEqual([...expected].sort());
  });
});

describe('finding links quickly', () => {
  test('says the same as reading every text', async () => {
    const quick = await loadLinkReader();
    const part = fc.constantFrom(
      '[',
      ']',
      '(',
      ')',
      '![',
      '](',
      ']: ',
      '<',
      '>',
      'x',
      ' ',
      '\n',
      '\n\n',
      '`',
      'entry:a/b',
      'javascript:',
      '&#106;',
      'https://a.example',
      'mailto:x',
      'assets/x.png',
      '<img src=',
      '<a href=',
      '"',
      'x.png',
      '\\',
      '#',
      '[x]',
      '/',
    );
    fc.assert(
      fc.property(fc.array(part, { maxLength: 14 }), (parts) => {
        const text = parts.join('');
        const worthSaying = readLinks(text).filter((one) => {
          const target = targetOf(one);
          return (
            one.isPicture || target.to !== 'elsewhere' || !/^(?:https?|mailto|tel|undefined)$/u.test(`${target.scheme}`)
          );
        });
        for (const one of worthSaying) expect([text, quick(text)]).toEqual([text, expect.arrayContaining([one])]);
      }),
      { numRuns: 3000 },
    );
  });

  test('the scheme of an address is what a browser takes for it', () => {
    for (const [url, scheme] of [
      ['https://a', 'https'],
      ['HTTP://a', 'http'],
      [' \tjava\nscript:x', 'javascript'],
      ['a/b:c', undefined],
      ['#a:b', undefined],
      ['photo.png', undefined],
    ] as const)
      expect([url, schemeOf(url)]).toEqual([url, scheme]);
  });
});
