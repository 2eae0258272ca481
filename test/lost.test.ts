import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { lightModel } from './support/migrated.ts';
import { edit, lumbrik, read, result, workspace, write } from './support/program.ts';

/** Rehearses a migration that ends with some steps written by hand, on some entries. */
async function rehearsal(fields: string, entries: Record<string, string>, steps: string, changed = fields) {
  const folder = workspace({ ...lightModel(fields), ...entries });
  await lumbrik(folder, ['seal', '-m', 'one']);
  write(folder, lightModel(`${changed}  other: { kind: text }\n`));
  const { file } = await result(folder, ['migration', 'draft']);
  const text = read(folder, file);
  const withoutOpen = text.replace(/^ {4}open: .*\n/gmu, '');
  fs.writeFileSync(path.join(folder, file), withoutOpen + steps);
  const rehearsed = await result(folder, ['migration', 'rehearse']);
  return { folder, file, rehearsed };
}

const a = 'content/light/a.yaml';
const b = 'content/light/b.yaml';

describe('what a step overwrites is counted as lost [H3, H4]', () => {
  test('set: what another value takes the place of, and nothing else', async () => {
    const { rehearsed } = await rehearsal(
      '  h: { kind: integer }\n',
      { [a]: 'h: 2\n', [b]: 'h: 7\n', 'content/light/c.yaml': 'name: C\n' },
      '  - set: light.h\n    value: 7\n',
    );
    expect(rehearsed.lost).toEqual([
      { entry: 'light/a', pointer: '/h', value: 2, why: 'the step sets another', becomes: 7 },
    ]);
  });

  test('set: null takes a value out, also one in several languages', async () => {
    const { folder, rehearsed } = await rehearsal(
      '  h: { kind: integer }\n  t: { kind: text, localized: true }\n',
      { [a]: 'h: 2\nt: { en: x }\nname: A\n', [b]: 'name: B\n' },
      '  - set: light.h\n    value: null\n  - set: light.t\n    cel: "entry.id == \'a\' ? null : null"\n',
    );
    expect(rehearsed.error).toBeUndefined();
    expect(rehearsed.lost).toEqual([
      { entry: 'light/a', pointer: '/h', value: 2, why: 'the step sets another' },
      { entry: 'light/a', pointer: '/t', value: { en: 'x' }, why: 'the step sets another' },
    ]);
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, a)).toBe('name: A\n');
  });

  test('a list, of which not every item can be carried, for which something else stands', async () => {
    const { folder, rehearsed } = await rehearsal(
      '  h: { kind: text, many: true }\n',
      { [a]: 'h: ["1", two]\n', [b]: 'h: ["3"]\n' },
      '',
      '  h: { kind: integer, many: true }\n',
    );
    expect(rehearsed.lost).toEqual([expect.objectContaining({ value: 'two' })]);
    const again = await rehearsal(
      '  h: { kind: text, many: true }\n',
      { [a]: 'h: ["1", two]\n', [b]: 'h: ["3"]\n' },
      '',
      '  h: { kind: integer, many: true }\n',
    );
    const text = read(again.folder, again.file).replace(/^( {2}- convert: light\.h\n)/mu, '$1    value: [9]\n');
    fs.writeFileSync(path.join(again.folder, again.file), text);
    expect((await result(again.folder, ['migration', 'rehearse'])).lost).toEqual([
      expect.objectContaining({ entry: 'light/a', pointer: '/h', value: ['1', 'two'], becomes: [9] }),
    ]);
    expect(fs.existsSync(folder)).toBe(true);
  });

  test.each([
    ['a value that no longer fits', '  h: { kind: integer, max: 5 }\n', 'change'],
    ['a value that cannot be carried', '  h: { kind: boolean }\n', 'convert'],
  ])('null for %s', async (_what, changed, verb) => {
    const { folder, file } = await rehearsal('  h: { kind: integer }\n', { [a]: 'name: A\nh: 9\n' }, '', changed);
    const text = read(folder, file).replace(new RegExp(`^( {2}- ${verb}: light\\.h\\n)`, 'mu'), '$1    value: null\n');
    fs.writeFileSync(path.join(folder, file), text);
    const { lost, error } = await result(folder, ['migration', 'rehearse']);
    expect(error).toBeUndefined();
    expect(lost).toEqual([{ entry: 'light/a', pointer: '/h', value: 9, why: expect.any(String) }]);
    expect((await result(folder, ['migration', 'run'])).error).toBeUndefined();
    expect(read(folder, a)).toBe('name: A\n');
  });

  test.each([
    [
      'a required field',
      '  h: { kind: integer, required: true }\n',
      '  - set: light.h\n    value: null\n',
      'is required',
    ],
    ['a new field', '  h: { kind: integer }\n', '  - set: light.h\n', 'says no value'],
  ])('null for %s is refused', async (_what, fields, steps, says) => {
    const { rehearsed } = await rehearsal(fields, { [a]: 'h: 2\n' }, steps);
    expect(rehearsed.error.says).toContain(says);
  });

  test('an entry that loses its last value is an entry all the same', async () => {
    const folder = workspace({
      ...lightModel('  old: { kind: text }\n'),
      [a]: 'old: x\n',
      'content/light/j.json': '{ "old": "x" }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, lightModel('  other: { kind: integer }\n'));
    const { file } = await result(folder, ['migration', 'draft', '--not-renamed', 'light.old']);
    edit(folder, file, /^ +open: .*\n/mu, '');
    await lumbrik(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    expect([read(folder, a), await result(folder, ['check'])]).toMatchObject(['{}\n', { findings: [] }]);
  });

  test('a rename onto a key that an entry has already, though its type does not', async () => {
    const folder = workspace({ ...lightModel('  old: { kind: text }\n'), [a]: 'old: x\nnew: y\n', [b]: 'old: z\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, lightModel('  new: { kind: text }\n'));
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'light.old=new']);
    const { lost, error } = await result(folder, ['migration', 'rehearse']);
    expect([error, lost]).toEqual([
      undefined,
      [expect.objectContaining({ entry: 'light/a', pointer: '/new', value: 'y', becomes: 'x' })],
    ]);
  });
});
