import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { edit, lumbrik, result, started, workspace, write } from './support/program.ts';

const model = { 'model/types/light.yaml': 'type: light\nfields:\n  l: { kind: json, max: 90000000 }\n' };

describe('what a file may cost is bounded before it is read [M1] [M2]', () => {
  test.each([
    ['a YAML list of two million items', 'content/light/a.yaml', () => `l:\n${'  - abcdef\n'.repeat(2_000_000)}`],
    ['a JSON list of two million items', 'content/light/a.json', () => `{"l":[${'1,'.repeat(2_000_000)}1]}`],
    [
      'front matter of two million keys',
      'content/light/a.md',
      () => `---\n${Array.from({ length: 1_000_000 }, (_, n) => `k${n}: 1\n`).join('')}---\n`,
    ],
    [
      'a type of two million fields',
      'model/types/big.yaml',
      () => `type: big\nfields:\n${'  a: { kind: text }\n'.repeat(400_000)}`,
    ],
    [
      'terms by the million',
      'content/topic.terms.yaml',
      () => `taxonomy: topic\nterms:\n${'  - a\n'.repeat(1_000_000)}`,
    ],
    ['brackets by the million', 'content/light/a.json', () => `{"l":${'['.repeat(2_000_000)}`],
  ])('%s is refused in words, in little memory', (_name, file, text) => {
    const folder = workspace({
      ...model,
      'model/taxonomies/topic.yaml': 'taxonomy: topic\nopen: true\n',
      [file]: text(),
    });
    const { code, out, err } = started(folder, ['check', '--format', 'json'], { node: ['--max-old-space-size=400'] });
    expect([code, err]).toEqual([1, '']);
    const { findings, mistakes } = JSON.parse(out);
    const [first] = [...findings, ...mistakes];
    expect(first.file).toBe(file);
    expect(first.says).toContain('holds more than 500,000 keys, values and items');
    expect(first.mend).toContain('fileNodes');
  });

  test('the bounds can be raised in the workspace, and lowered', async () => {
    const folder = workspace({ ...model, 'content/light/a.json': `{"l":[${'1,'.repeat(3_000)}1]}` });
    expect((await result(folder, ['check'])).code).toBe(0);
    edit(folder, 'lumbrik.yaml', 'languages', 'limits: { fileNodes: 1000 }\nlanguages');
    expect((await result(folder, ['check'])).findings[0].says).toContain('holds more than 1,000');
    edit(folder, 'lumbrik.yaml', 'fileNodes: 1000', 'fileNodes: 9000');
    expect((await result(folder, ['check'])).code).toBe(0);
    edit(folder, 'lumbrik.yaml', 'fileNodes: 9000', 'fileMegabytes: 1');
    write(folder, { 'content/light/b.json': `{"l":"${'x'.repeat(1_100_000)}"}` });
    const { findings } = await result(folder, ['check']);
    expect(findings[0]).toMatchObject({
      file: 'content/light/b.json',
      says: expect.stringContaining('has 2 megabytes, more than the 1'),
    });
    expect(findings[0].mend).toContain('fileMegabytes');
  });

  test.each(['fileNodes: 1', 'fileNodes: many', 'fileMegabytes: 0', 'expressionSteps: 1.5', 'fileNods: 5000'])(
    'a bound that is none is a mistake: %s',
    async (said) => {
      const folder = workspace({ ...model, 'lumbrik.yaml': `workspace: x\nlimits: { ${said} }\n` });
      const { code, error } = await result(folder, ['check']);
      expect([code, error.code]).toEqual([2, 'unusable-workspace']);
      expect(error.where).toMatchObject({ file: 'lumbrik.yaml', line: 2 });
    },
  );

  test('what is written by the tool itself is read whatever its size', async () => {
    // The plan of a run over many entries is larger than any file that an author writes.
    const folder = workspace({ ...model, 'lumbrik.yaml': 'workspace: x\nlimits: { fileMegabytes: 1 }\n' });
    const names = Array.from({ length: 2500 }, (_, n) => `content/light/${'long-name-'.repeat(9)}${n}.json`);
    for (const name of names) write(folder, { [name]: '{"l":1}' });
    for (const args of [['seal', '-m', 'one']]) await lumbrik(folder, args);
    edit(folder, 'model/types/light.yaml', '  l:', '  list:');
    for (const args of [['draft', '--renamed', 'light.l=list'], ['rehearse'], ['run']])
      expect((await lumbrik(folder, ['migration', ...args])).code).toBe(0);
    const [journal = ''] = fs.readdirSync(path.join(folder, '.lumbrik/runs'));
    expect(fs.statSync(path.join(folder, '.lumbrik/runs', journal, 'plan.json')).size).toBeGreaterThan(1024 * 1024);
    expect((await lumbrik(folder, ['check'])).code).toBe(0);
    expect((await lumbrik(folder, ['migration', 'undo'])).code).toBe(0);
    expect(fs.readFileSync(path.join(folder, names[7] ?? ''), 'utf8')).toBe('{"l":1}');
  });
});
