import { describe, expect, test } from 'vitest';
import { started, temporary, workspace, write } from './support/program.ts';

const deep = 5000;
const brackets = '['.repeat(deep) + ']'.repeat(deep);
const objects = '{"a":'.repeat(deep) + 1 + '}'.repeat(deep);
const steps = Array.from({ length: deep }, (_, level) => `${' '.repeat(level)}a:`).join('\n');
const endless = 'a: &a [*a]';
const endlessInside = 'a: &a { b: &b [1, { c: *a }] }';

/** Texts that no reader may follow to their end, in each syntax of an entry. */
const entries: Readonly<Record<string, string>> = {
  'flow.yaml': `name: ${brackets}`,
  'block.yaml': steps,
  'items.yaml': `name:\n  ${'- '.repeat(deep)}x`,
  'questions.yaml': `name:\n  ${'? '.repeat(deep)}x`,
  'endless.yaml': endless,
  'endlessInside.yaml': endlessInside,
  'list.json': `{"name":${brackets}}`,
  'objects.json': objects,
  'front.md': `---\nname: ${brackets}\n---\n`,
  'frontEndless.md': `---\n${endless}\n---\n`,
};
const model = { 'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n' };
const good = { 'content/light/good.yaml': 'name: Skerry Point\n' };

/** Several copies of one file: what an engine does differently the second time is seen too. */
const copies = (folder: string, name: string, text: string): Readonly<Record<string, string>> =>
  Object.fromEntries([1, 2, 3].map((copy) => [`${folder}/${name.replace('.', `${copy}.`)}`, `${text}\n`]));

describe('a file that is nested without measure takes nothing else down [M2]', () => {
  test('three entries of each syntax are each reported, and the others are checked', () => {
    const hostile = Object.assign(
      {},
      ...Object.entries(entries).map(([name, text]) => copies('content/light', name, text)),
    );
    const { code, out, err } = started(workspace({ ...model, ...good, ...hostile }), ['check', '--format', 'json']);
    expect([code, err]).toEqual([1, '']);
    const { findings, entries: count } = JSON.parse(out);
    expect(count).toBe(1);
    expect(findings.map(({ file, finding }: { file: string; finding: string }) => [file, finding]).sort()).toEqual(
      Object.keys(hostile)
        .map((file) => [file, 'unreadable-file'])
        .sort(),
    );
  });

  test.each(['lumbrik.yaml', 'types', 'kits', 'kinds', 'taxonomies', 'terms', 'migrations'])(
    'three files of %s are named, each with its place',
    (shelf) => {
      const folder = { terms: 'content', migrations: 'migrations' }[shelf] ?? `model/${shelf}`;
      const texts = [`name: ${brackets}`, steps, endless, endlessInside];
      const files =
        shelf === 'lumbrik.yaml'
          ? { 'lumbrik.yaml': endless }
          : Object.assign(
              {},
              ...texts.map((text, n) => copies(folder, shelf === 'terms' ? `t${n}.terms.yaml` : `t${n}.yaml`, text)),
            );
      const call = shelf === 'migrations' ? ['migration', 'show', 't21'] : ['check'];
      const { code, out, err } = started(workspace({ ...model, ...good, ...files }), call);
      expect([1, 2]).toContain(code);
      expect(`${out}${err}`).toMatch(/nested too deeply|stands inside the value that it repeats/u);
      if (shelf !== 'migrations') for (const file of Object.keys(files)) expect(`${out}${err}`).toContain(file);
    },
  );

  test('lines, one broken among good ones', () => {
    const lines = [brackets, objects, `{"id":"x","name":${brackets}}`].flatMap((line) => [
      line,
      line,
      '{"id":"a1","name":"A"}'.replace('a1', `a${line.length % 97}`),
    ]);
    const folder = workspace({
      ...model,
      'lumbrik.yaml': 'workspace: x\ncontent: [{ lines: content/light.ndjson, type: light }]\n',
      'content/light.ndjson': `${lines.join('\n')}\n`,
    });
    const { code, out } = started(folder, ['check', '--format', 'json']);
    expect(code).toBe(1);
    expect(
      JSON.parse(out).findings.filter(({ finding }: { finding: string }) => finding === 'unreadable-file'),
    ).toHaveLength(6);
  });

  test.each([
    ['HTML', 'html', '<div>'.repeat(20_000)],
    ['HTML of lists', 'html', '<ul><li>'.repeat(5000)],
    ['Markdown of quotes', 'markdown', `${'> '.repeat(5000)}x`],
    ['Markdown of links', 'markdown', `${'['.repeat(5000)}x${'](a)'.repeat(5000)}`],
    ['Markdown of emphasis', 'markdown', `${'**a '.repeat(500)}${' b**'.repeat(500)}`],
    ['HTML in Markdown', 'markdown', `<div>${'<b>'.repeat(9000)}x`],
  ])('%s becomes structured text, or is listed as lost, time after time', (_what, from, text) => {
    const folder = temporary();
    write(folder, { 'in.txt': text });
    const many = workspace({
      'model/types/light.yaml': `type: light\nfields:\n  story: { kind: ${from === 'html' ? 'longText' : 'markdown'} }\n`,
      ...Object.assign({}, ...[1, 2, 3].map((n) => ({ [`content/light/${n}.json`]: JSON.stringify({ story: text }) }))),
    });
    expect(started(many, ['seal', '-m', 'one']).code).toBe(0);
    write(many, { 'model/types/light.yaml': 'type: light\nfields:\n  story: { kind: richText }\n' });
    for (const call of [['diff'], ['migration', 'draft'], ['check']]) {
      const { code, err } = started(many, call);
      expect([call, code === 0 || code === 1, err]).toEqual([call, true, '']);
    }
  });

  test('expressions and patterns', () => {
    const parentheses = `${'('.repeat(deep)}1${')'.repeat(deep)} > 0`;
    const folder = workspace({
      'model/types/a.yaml': `type: a\nfields:\n  x: { kind: integer }\nrules:\n  - { must: '${parentheses}', message: no }\n`,
      'model/types/b.yaml': `type: b\nfields:\n  x: { kind: text, pattern: '${'('.repeat(deep)}a${')'.repeat(deep)}' }\n  y: { kind: text, pattern: '${'(?:'.repeat(deep)}b${')*'.repeat(deep)}' }\n`,
      'model/types/c.yaml': `type: c\nfields:\n  x: { kind: integer, computed: '${'!'.repeat(deep)}true' }\n  y: { kind: integer, computed: '${'['.repeat(deep)}${']'.repeat(deep)}' }\n`,
    });
    const { code, out, err } = started(folder, ['check']);
    expect([code, err]).toEqual([1, '']);
    for (const file of ['a.yaml', 'b.yaml', 'c.yaml']) expect(out).toContain(`model/types/${file}`);
  });
});
