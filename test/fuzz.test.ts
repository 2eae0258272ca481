import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import type { Element, Root } from 'hast';
import { fromHtml } from 'hast-util-from-html';
import { describe, expect, test } from 'vitest';
import { isId } from '../src/core/definition/address.ts';
import { alikeTerms, type UsedTerm } from '../src/core/taxonomy/alike.ts';
import { readPlainList, readTable } from '../src/core/taxonomy/termList.ts';
import { htmlToTree, markdownToTree } from '../src/core/text/convert.ts';
import { treeToHtml, treeToMarkdown } from '../src/core/text/render.ts';
import { withinLimits } from '../src/core/text/restrict.ts';
import { isTree } from '../src/core/text/tree.ts';
import { png } from './support/pictures.ts';
import { lumbrik, result, snapshot, temporary, workspace } from './support/program.ts';

/** Pieces that markup is made of, in any order: more of it is broken than a person could write. */
const markup = fc
  .array(
    fc.oneof(
      fc.constantFrom(
        ...[
          '<p>',
          '</p>',
          '<h1>',
          '<table><tr><td>',
          '</table>',
          '<ul><li>',
          '<a href="javascript:alert(1)">',
          '<img src=x onerror=alert(1)>',
        ],
        ...[
          '<script>alert(1)</script>',
          '<svg onload=alert(1)>',
          '<iframe src="//x">',
          '<style>*{}</style>',
          '<!-- x -->',
          '&lt;script&gt;',
        ],
        ...[
          '# ',
          '\n\n',
          '- ',
          '> ',
          '```\n',
          '| a |\n| - |\n',
          '[x](entry:keeper/ada)',
          '![y](data:text/html,z)',
          '*',
          '_',
          '`',
          '~~',
          '\\',
          '<',
          '>',
        ],
        ...[
          '<figure data-entry="keeper/ada"></figure>',
          '<span data-entry="&quot;><script>">',
          '[a]: javascript:alert(1)\n',
          '[a]',
        ],
      ),
      fc.string({ maxLength: 6 }),
    ),
    { maxLength: 14 },
  )
  .map((parts) => parts.join(''));

/** What could do harm in a page, as a browser reads it: elements that act, and addresses that run. */
function harms(node: Root | Element): readonly string[] {
  return node.children.flatMap((child) => {
    if (child.type !== 'element') return [];
    const acting = ['script', 'iframe', 'svg', 'style', 'object', 'embed', 'form'].includes(child.tagName);
    const properties = Object.entries(child.properties).filter(
      ([name, value]) =>
        /^(?:on|style|srcdoc)/iu.test(name) || /^\s*(?:javascript|data|vbscript):/iu.test(String(value)),
    );
    return [...(acting ? [child.tagName] : []), ...properties.map(([name]) => name), ...harms(child)];
  });
}

describe('whatever is converted [F3] [M2]', () => {
  test('becomes a sound tree, and HTML that can do no harm', () => {
    fc.assert(
      fc.property(markup, fc.boolean(), (text, isHtml) => {
        const { tree } = isHtml ? htmlToTree(text) : markdownToTree(text);
        expect([text, isTree(tree)]).toEqual([text, true]);
        expect([text, ...harms(fromHtml(treeToHtml(tree), { fragment: true }))]).toEqual([text]);
      }),
      { numRuns: 1500 },
    );
  });

  test('survives Markdown and back, and stays within limits once it is brought there', () => {
    const limits = { blocks: ['list'], marks: ['emphasis'], embeds: ['keeper'] } as const;
    fc.assert(
      fc.property(markup, (text) => {
        const { tree } = htmlToTree(text);
        expect(isTree(markdownToTree(treeToMarkdown(tree)).tree)).toBe(true);
        const fitted = withinLimits(tree, limits);
        expect([text, isTree(fitted.tree)]).toEqual([text, true]);
        expect(withinLimits(fitted.tree, limits)).toEqual({ tree: fitted.tree, lost: [] });
      }),
      { numRuns: 800 },
    );
  });
});

describe('lists of terms [D7] [M2]', () => {
  test('give identifiers or say where they are wrong, and never stop the tool', () => {
    const lines = fc.array(
      fc.oneof(
        fc.constantFrom('North', '  Skerries', '\tHolm Bay', 'a: b', '# no', '???', '"', ',,', 'term,label', 'x;y', ''),
        fc.string(),
      ),
      { maxLength: 8 },
    );
    fc.assert(
      fc.property(lines, (all) => {
        for (const read of [readPlainList(all.join('\n')), readTable(all.join('\n'), ['en', 'fr'])]) {
          if ('problem' in read) expect(read.problem.line).toBeGreaterThan(0);
          else for (const { term } of read.value) expect([term, isId(term)]).toEqual([term, true]);
        }
      }),
      { numRuns: 1000 },
    );
  });
});

describe('look-alikes [D5]', () => {
  const word = fc.stringMatching(/^[a-z]{1,12}(?:-[a-z]{1,6})?$/u);
  const term = fc
    .record({ term: word, uses: fc.nat(20), isListed: fc.boolean() })
    .map((one): UsedTerm => ({ ...one, label: one.term, labels: [], synonyms: [], isBorrowed: false }));

  test('are pairs of two different terms, each once, the surest first, whatever order the terms stand in', () => {
    fc.assert(
      fc.property(fc.uniqueArray(term, { maxLength: 30, selector: (one) => one.term }), (terms) => {
        const pairs = alikeTerms(terms);
        const names = pairs.map(({ keep, merge }) => [keep.term, merge.term].sort().join(' '));
        expect(new Set(names).size).toBe(names.length);
        for (const { keep, merge, sure } of pairs) {
          expect(keep.term).not.toBe(merge.term);
          expect(sure > 0 && sure < 1).toBe(true);
          // What is written down is never given up for what is not.
          expect(merge.isListed && !keep.isListed).toBe(false);
        }
        const again = alikeTerms([...terms].reverse());
        expect(again.map(({ sure }) => sure)).toEqual(pairs.map(({ sure }) => sure));
      }),
      { numRuns: 400 },
    );
  });
});

describe('commands that write refuse what they must not touch [A5] [M2]', () => {
  const model = {
    'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n',
    'model/taxonomies/topic.yaml': 'taxonomy: topic\nopen: true\n',
  };
  const calls: readonly (readonly string[])[] = [
    ['add', 'field', 'light', 'range', '--kind', 'integer'],
    ['add', 'term', 'topic', 'birds'],
    ['entry', 'new', 'light', 'a'],
    ['schemas', '--name'],
  ];

  test.each(calls)('while another process writes: %s %s', async (...args) => {
    const folder = workspace(model);
    fs.mkdirSync(path.join(folder, '.lumbrik'));
    await lumbrik(folder, ['seal', '-m', 'one']);
    fs.writeFileSync(path.join(folder, '.lumbrik/lock'), `${process.pid} ${os.hostname()}`);
    const before = snapshot(folder);
    expect(await result(folder, args)).toMatchObject({ code: 3, error: { code: 'locked' } });
    expect(snapshot(folder)).toEqual(before);
  });

  test('through a link that leads out of the workspace, and an asset that is one', async () => {
    const outside = temporary();
    fs.writeFileSync(path.join(outside, 'secret.png'), png(1, 1));
    const folder = workspace({
      ...model,
      'content/light/a.yaml': 'name: A\nphoto: secret.png\n',
      'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n  photo: { kind: asset }\n',
    });
    fs.mkdirSync(path.join(folder, 'assets'));
    fs.symlinkSync(path.join(outside, 'secret.png'), path.join(folder, 'assets/secret.png'));
    fs.symlinkSync(outside, path.join(folder, 'schemas'));
    expect(await lumbrik(folder, ['schemas'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('symbolic link'),
    });
    expect(fs.readdirSync(outside)).toEqual(['secret.png']);
    expect((await result(folder, ['check'])).findings).toMatchObject([
      { finding: 'symbolic-link', file: 'assets/secret.png' },
      { finding: 'missing-asset', says: expect.stringContaining('is a symbolic link') },
    ]);
    fs.rmSync(path.join(folder, 'content'), { recursive: true });
    fs.symlinkSync(outside, path.join(folder, 'content'));
    expect((await lumbrik(folder, ['entry', 'new', 'light', 'b'])).code).toBe(2);
    expect(fs.readdirSync(outside)).toEqual(['secret.png']);
  });
});
