import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { png } from './support/pictures.ts';
import { edit, lumbrik, read, result, workspace, write } from './support/program.ts';

const type = (name: string, fields = '  name: { kind: text }\n') => `type: ${name}\nfields:\n${fields}`;

describe('names that no system can tell apart, or keep, are mistakes [A7] [B1]', () => {
  test.each(['aux', 'con', 'nul', 'prn', 'com1', 'lpt9'])('%s', async (name) => {
    const folder = workspace({ 'model/types/a.yaml': type(name) });
    expect((await result(folder, ['check'])).mistakes).toMatchObject([
      { file: 'model/types/a.yaml', line: 1, says: expect.stringContaining('a device on some systems') },
    ]);
    expect((await result(folder, ['add', 'type', name])).code).toBe(2);
  });

  test('of types, taxonomies and kits that differ by case alone, each at its place; other names are fine', async () => {
    const folder = workspace({
      'model/types/a.yaml': type('lightHouse'),
      'model/types/b.yaml': type('lighthouse'),
      'model/taxonomies/c.yaml': 'taxonomy: lightHOUSE\nterms: [a]\n',
      'model/types/d.yaml': type('auxiliary'),
    });
    const { mistakes } = await result(folder, ['check']);
    expect(mistakes.map(({ file, says }: any) => [file, says.includes('large and small letters')])).toEqual([
      ['model/types/a.yaml', true],
      ['model/types/b.yaml', true],
    ]);
    expect((await result(folder, ['add', 'type', 'LightHouse'])).code).toBe(2);
  });
});

describe('what stands where a file should is said, with its place [M2]', () => {
  test('links that lead in a circle, or nowhere, in the model and beside it', async () => {
    const folder = workspace({ 'model/types/light.yaml': type('light'), 'content/light/a.yaml': 'name: A\n' });
    for (const [place, target] of [
      ['model/types/loop.yaml', 'loop.yaml'],
      ['model/types/lost.yaml', 'nowhere.yaml'],
      ['content/topic.terms.yaml', 'topic.terms.yaml'],
    ] as const)
      fs.symlinkSync(target, path.join(folder, place));
    const { mistakes, code } = await result(folder, ['check']);
    expect(code).toBe(1);
    expect(mistakes.map(({ file, line, says }: any) => [file, line, says.includes('symbolic link')])).toEqual([
      ['content/topic.terms.yaml', 1, true],
      ['model/types/loop.yaml', 1, true],
      ['model/types/lost.yaml', 1, true],
    ]);
    for (const args of [['show'], ['seal', '-m', 'x'], ['schemas'], ['add', 'type', 'tour']])
      expect((await result(folder, args)).code).toBe(2);
    const other = workspace({});
    fs.rmSync(path.join(other, 'lumbrik.yaml'));
    fs.symlinkSync('lumbrik.yaml', path.join(other, 'lumbrik.yaml'));
    expect((await lumbrik(other, ['check'])).code).toBe(2);
    expect((await lumbrik(other, ['check', '--workspace', '.'])).code).toBe(2);
  });

  test('an asset that is a link is called linked, not absent', async () => {
    const folder = workspace({
      'model/types/light.yaml': type('light', '  photo: { kind: asset }\n'),
      'content/light/a.yaml': 'photo: a.png\n',
      'content/light/b.yaml': 'photo: real.png\n',
      'assets/real.png': png(1, 1),
    });
    fs.symlinkSync('real.png', path.join(folder, 'assets/a.png'));
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ finding, file, says }: any) => [finding, file, says])).toEqual([
      ['symbolic-link', 'assets/a.png', expect.stringContaining('links are never followed')],
      ['missing-asset', 'content/light/a.yaml', expect.stringContaining('is a symbolic link')],
    ]);
  });
});

describe('renames that are stated together [G2]', () => {
  const before = {
    'model/types/light.yaml': type(
      'light',
      '  h: { kind: integer }\n  hours: { kind: object, fields: { opens: { kind: text }, pace: { kind: choice, choices: [slow, fast] } } }\n',
    ),
    'model/taxonomies/area.yaml': 'taxonomy: area\nterms: [north]\n',
    'content/light/a.yaml': 'h: 3\nhours: { opens: x, pace: slow }\n',
  };
  const after = {
    'model/types/light.yaml': type(
      'beacon',
      '  focal: { kind: integer }\n  times: { kind: object, fields: { starts: { kind: text }, pace: { kind: choice, choices: [calm, fast] } } }\n',
    ),
    'model/taxonomies/area.yaml': 'taxonomy: region\nterms: [far-north]\n',
  };

  test.each([
    [
      'old names',
      'light.h=focal',
      'light.hours=times',
      'light.hours.opens=starts',
      'light.hours.pace:slow=calm',
      'area:north=far-north',
    ],
    [
      'new names',
      'beacon.h=focal',
      'beacon.hours=times',
      'beacon.times.opens=starts',
      'beacon.times.pace:slow=calm',
      'region:north=far-north',
    ],
  ])('a type, fields in it, fields inside those and their choices, by %s', async (_name, ...stated) => {
    const folder = workspace(before);
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, after);
    const renames = ['light=beacon', 'area:=region', ...stated].flatMap((one) => ['--renamed', one]);
    const { changes, error } = await result(folder, ['diff', ...renames]);
    expect(error).toBeUndefined();
    expect(changes.map(({ change }: any) => change)).toEqual(Array.from({ length: 7 }, () => 'renamed'));
    expect((await result(folder, ['migration', 'draft', ...renames])).openQuestions).toBe(0);
    expect((await result(folder, ['migration', 'rehearse'])).code).toBe(0);
    expect((await result(folder, ['migration', 'run'])).code).toBe(0);
    expect(read(folder, 'content/beacon/a.yaml')).toBe('focal: 3\ntimes: { starts: x, pace: calm }\n');
  });

  test('and what is stated of nothing is refused, with what there is', async () => {
    const folder = workspace(before);
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/light.yaml', 'h: {', 'focal: {');
    for (const [stated, says, mend] of [
      ['light.zebra=focal', 'names a field `zebra`, and revision 1 has none', 'There are h and hours.'],
      ['light.h=nothing', 'names a field `nothing`, and the working files have none', 'There are focal and hours.'],
      ['tour.h=focal', 'names a field `h`, and revision 1 has none', 'Look at the model'],
      ['light=beacon', 'names a type `beacon`', 'There is light.'],
    ] as const) {
      const { error, code } = await result(folder, ['diff', '--renamed', stated]);
      expect([code, error.code]).toEqual([2, 'malformed-rename']);
      expect(error.says).toContain(says);
      expect(error.mend).toContain(mend);
    }
  });

  test('something that is no rename may be called by its old name too', async () => {
    const folder = workspace(before);
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, after);
    for (const name of ['light.h', 'beacon.h']) {
      const { changes } = await result(folder, ['diff', '--renamed', 'light=beacon', '--not-renamed', name]);
      const told = changes.map(({ change, address }: any) => `${change} ${address}`);
      expect(told).toContain('field-removed beacon.h');
    }
  });
});

test('“There are” always says what there is', async () => {
  const folder = workspace({ 'model/types/light.yaml': 'type: light\nfields: {}\n' });
  const said: string[] = [];
  for (const args of [
    ['show', 'zebra'],
    ['show', 'light.zebra'],
    ['show', 'light/zebra'],
    ['show', 'zebra:'],
    ['terms', 'zebra'],
    ['add', 'field', 'zebra', 'x', '--kind', 'text'],
    ['add', 'term', 'zebra', 'x'],
    ['diff', '--renamed', 'light.x=y'],
    ['migration', 'run', 'zebra'],
    ['text', 'light/a#/x', '--to', 'html'],
    ['text', 'lumbrik.yaml', '--to', 'html', '--for', 'light.x'],
  ])
    said.push((await lumbrik(folder, args)).err);
  await lumbrik(folder, ['seal', '-m', 'one']);
  said.push((await lumbrik(folder, ['diff', '--renamed', 'light.x=y'])).err);
  write(folder, {
    'model/types/light.yaml': 'type: light\nfields: {}\nrules:\n  - { expect: "entry.zebra > 1", say: x }\n',
    'model/types/tour.yaml': 'type: tour\nfields:\n  a: { use: zebra }\nkits: [zebra]\n',
  });
  said.push((await lumbrik(folder, ['check'])).out);
  for (const text of said) expect(text).toMatch(/\S/u);
  expect(said.join('\n')).toContain('There is ');
  expect(said.join('\n')).not.toMatch(/(?:is|are) ?\./u);
});
