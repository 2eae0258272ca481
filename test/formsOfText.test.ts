import { describe, expect, test } from 'vitest';
import { parse } from 'yaml';
import { edit, lumbrik, read, result, workspace, write } from './support/program.ts';

const page = (fields: string): string => `type: page\nfields:\n${fields}`;

describe('one story of texts, lists, subtypes and computed fields [G3, G4]', () => {
  test('HTML in a long text becomes what it says; what cannot be kept is told; a sign such as < is text', async () => {
    const folder = workspace({
      'model/types/page.yaml': page('  text: { kind: longText }\n'),
      'content/page/a.yaml': 'text: "<p>Hello <b>bold</b></p><ul><li>x</li></ul>"\n',
      'content/page/b.yaml': 'text: "1 < 2 and <b>"\n',
      'content/page/c.yaml': `text: '<p class="lead">Led</p>'\n`,
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { 'model/types/page.yaml': page('  text: { kind: richText }\n') });
    const { changes } = await result(folder, ['diff']);
    expect(changes[0].impact).toMatchObject({ hits: 1, of: 3 });
    await result(folder, ['migration', 'draft']);
    await result(folder, ['migration', 'answer', '--yes']);
    const { lost } = await result(folder, ['migration', 'rehearse']);
    expect(lost.map(({ entry, why }: { entry: string; why: string }) => [entry, why])).toEqual([
      ['page/c', expect.stringContaining('the attribute class of <p>')],
    ]);
    await lumbrik(folder, ['migration', 'run']);
    const texts = (id: string): string => JSON.stringify(parse(read(folder, `content/page/${id}.yaml`)).text);
    expect(texts('a')).toContain('"type":"strong"');
    expect(texts('a')).toContain('"type":"listItem"');
    expect(texts('a')).not.toContain('<b>');
    expect(texts('b')).toContain('1 < 2 and <b>');
  });

  test('structured text as HTML keeps its styles and links its files; as Markdown it says what it loses', async () => {
    const folder = workspace({
      't.yaml':
        'type: root\nchildren:\n  - { type: heading, depth: 2, data: { style: lead }, children: [{ type: text, value: T }] }\n  - { type: paragraph, children: [{ type: embedInline, asset: x.pdf, alt: plan }, { type: embedInline, asset: y.png }] }\n',
    });
    const html = await result(folder, ['text', 't.yaml', '--to', 'html']);
    expect(html.text).toBe('<h2 class="lead">T</h2>\n<p><a href="x.pdf">plan</a><img src="y.png" alt=""></p>');
    expect(html.lost).toEqual([]);
    const markdown = await result(folder, ['text', 't.yaml', '--to', 'markdown']);
    expect(markdown.text.trim()).toBe('## T\n\n[plan](x.pdf)![](y.png)');
    expect(markdown.lost).toEqual([{ what: 'the style lead of a heading', times: 1 }]);
  });

  test('an empty text is no item of the list that it becomes', async () => {
    const folder = workspace({
      'model/types/page.yaml': page(
        '  a: { kind: text, mayBeEmpty: true }\n  b: { kind: text, mayBeEmpty: true }\n  c: { kind: text, mayBeEmpty: true, localized: true }\n',
      ),
      'content/page/a.yaml': 'a: ""\nb: ""\nc: { en: "" }\n',
      'content/page/b.yaml': 'a: x\nb: y\nc: { en: z }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, {
      'model/types/page.yaml': page(
        '  a: { kind: text, many: true }\n  b: { kind: text, many: true, mayBeEmpty: true }\n  c: { kind: text, many: true, localized: true }\n',
      ),
    });
    await result(folder, ['migration', 'draft']);
    expect((await result(folder, ['migration', 'rehearse'])).ok).toBe(true);
    await lumbrik(folder, ['migration', 'run']);
    expect(parse(read(folder, 'content/page/a.yaml'))).toEqual({ b: [] });
    expect(parse(read(folder, 'content/page/b.yaml'))).toEqual({ a: ['x'], b: ['y'], c: { en: ['z'] } });
  });

  test('a subtype that is gone is told once, and twice where what pointed at it as its base is hurt', async () => {
    const files = {
      'model/types/page.yaml': page('  name: { kind: text }\n  next: { kind: reference, to: page }\n'),
      'model/types/sub.yaml': 'type: sub\nextends: page\nfields: { extra: { kind: text } }\n',
      'content/sub/s.yaml': 'name: S\nextra: x\n',
      'content/page/a.yaml': 'name: A\n',
    };
    const told = async (more: Record<string, string>): Promise<readonly string[]> => {
      const folder = workspace({ ...files, ...more });
      await lumbrik(folder, ['seal', '-m', 'one']);
      write(folder, { 'model/types/sub.yaml': 'type: other\nfields: { x: { kind: date } }\n' });
      const { changes } = await result(folder, ['diff']);
      return changes
        .filter(({ address }: { address: string }) => address === 'sub')
        .map(({ change, impact }: any) => `${change} ${impact?.hits}`);
    };
    expect(await told({})).toEqual(['type-removed 1']);
    expect(await told({ 'content/page/b.yaml': 'name: B\nnext: sub/s\n' })).toEqual(
      expect.arrayContaining(['type-removed 1', 'shared-changed 1']),
    );
  });

  test('a new computed field changes no entry, and says so', async () => {
    const folder = workspace({
      'model/types/page.yaml': page('  next: { kind: reference, to: page }\n'),
      'content/page/a.yaml': '{}\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/page.yaml', /$/u, '  count: { kind: integer, computed: { count: page.next } }\n');
    const [change] = (await result(folder, ['diff'])).changes;
    expect([change.change, change.entries, change.impact]).toEqual(['field-added', 'valid', undefined]);
    await result(folder, ['migration', 'draft']);
    expect((await result(folder, ['migration', 'rehearse'])).changed).toBe(0);
  });
});
