import { describe, expect, test } from 'vitest';
import { png } from './support/pictures.ts';
import { edit, lumbrik, result, workspace } from './support/program.ts';

const light = (field: string, value: string, more: Record<string, string | Buffer> = {}) =>
  workspace({
    'lumbrik.yaml': 'workspace: Gannet Sound\nlanguages: [en, fr]\n',
    'model/types/light.yaml': `type: light\nfields:\n  photo: { kind: asset, ${field} }\n`,
    'content/light/a.yaml': `photo: ${value}\n`,
    'assets/tower.png': png(40, 30),
    ...more,
  });
const found = async (folder: string) =>
  (await result(folder, ['check'])).findings.map(
    (one: any) => `${one.severity} ${one.entry ?? one.file} ${one.finding}: ${one.says}`,
  );

describe('an asset is a file of the workspace, told by what is in it [F4]', () => {
  test.each<[string, string, string, readonly string[]]>([
    ['a file alone', '', 'tower.png', []],
    ['with an alternative text', 'alt: required', '{ file: tower.png, alt: A tower }', []],
    ['with one in each language', '', '{ file: tower.png, alt: { en: A tower, fr: Une tour } }', []],
    ['of a media type that is allowed', 'media: ["image/*"]', 'tower.png', []],
    [
      'of another media type',
      'media: [image/jpeg]',
      'tower.png',
      ['error light/a media-not-allowed: is image/png, only image/jpeg may stand here'],
    ],
    [
      'too large',
      'maxSize: 50 B',
      'tower.png',
      [
        expect.stringMatching(
          /^error light\/a asset-too-large: has \d+ B, at most 50 B are allowed$/u,
        ) as unknown as string,
      ],
    ],
    [
      'too small',
      'minWidth: 640',
      'tower.png',
      ['error light/a wrong-dimensions: has 40 pixels across, at least 640 are needed'],
    ],
    [
      'too high',
      'maxHeight: 20',
      'tower.png',
      ['error light/a wrong-dimensions: has 30 pixels down, at most 20 are allowed'],
    ],
    ['without a needed text', 'alt: required', 'tower.png', ['error light/a alt-missing: has no alternative text']],
    [
      'with a text where none belongs',
      'alt: none',
      '{ file: tower.png, alt: A }',
      [expect.stringContaining('wrong-shape') as unknown as string],
    ],
    [
      'with a text in no language',
      '',
      '{ file: tower.png, alt: { it: A } }',
      [expect.stringContaining('neither a text nor one in each language') as unknown as string],
    ],
    [
      'with a key of its own',
      '',
      '{ file: tower.png, altt: A }',
      [
        'error light/a wrong-shape: has a key `altt`',
        'warning assets/tower.png unused-asset: is used by no entry',
      ].slice(0, 1),
    ],
  ])('%s', async (_name, field, value, findings) => {
    expect(await found(light(field, value))).toEqual(findings);
  });

  test('a text that is required once published is not held against a draft', async () => {
    const folder = light('alt: published', 'tower.png\nstatus: draft');
    expect(await found(folder)).toEqual(['warning light/a alt-missing: has no alternative text']);
  });

  test('files that are missing, unused or not what their names say are reported', async () => {
    const folder = light('', 'towr.png', {
      'assets/old/picture.jpg': png(1, 1),
      'assets/map.svg': '<svg xmlns="http://www.w3.org/2000/svg"/>',
      'assets/notes.txt': 'Notes.',
      'assets/data.png': 'no picture',
    });
    expect(await found(folder)).toEqual([
      'warning assets/data.png mislabelled-asset: is of no known media type, and its name says image/png',
      'warning assets/data.png unused-asset: is used by no entry',
      'warning assets/map.svg unused-asset: is used by no entry',
      'warning assets/notes.txt unused-asset: is used by no entry',
      'warning assets/old/picture.jpg mislabelled-asset: is image/png, and its name says image/jpeg',
      'warning assets/old/picture.jpg unused-asset: is used by no entry',
      'warning assets/tower.png unused-asset: is used by no entry',
      'error light/a missing-asset: names the file towr.png, and there is none in assets/',
    ]);
    expect((await result(folder, ['check'])).findings.at(-1).mend).toBe('Did you mean tower.png?');
  });

  test.each([
    ['the folder above', '../lumbrik.yaml'],
    ['the root', '/etc/passwd'],
    ['a way out and back', 'a/../../assets/tower.png'],
  ])('a file is never looked for in %s', async (_name, file) => {
    expect((await found(light('', `"${file}"`)))[1] ?? (await found(light('', `"${file}"`)))[0]).toContain(
      'names no file',
    );
  });

  test('a lower limit is rated and drafted', async () => {
    const folder = light('maxSize: 2 MB', 'tower.png');
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'model/types/light.yaml', '2 MB', '500 kB');
    expect((await result(folder, ['diff'])).changes).toMatchObject([
      { says: 'maxSize 2000000 → 500000', entries: 'migrate' },
    ]);
    expect((await lumbrik(folder, ['show', 'light'])).out).toContain('≤ 500 kB');
  });

  test('what a limit would do to files is told wherever a changed model is looked at', async () => {
    const folder = light('maxSize: 2 MB', 'tower.png');
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'model/types/light.yaml', 'maxSize: 2 MB', 'maxSize: 50 B');
    const [change] = (await result(folder, ['diff'])).changes;
    expect(change.impact).toMatchObject({ hits: 1, of: 1 });
    expect(await result(folder, ['check', '--since', '1'])).toMatchObject({ ok: false, changes: [{ errors: 1 }] });
    expect(await result(folder, ['migration', 'draft'])).toMatchObject({ openQuestions: 1 });
    expect(await result(folder, ['migration', 'rehearse', '1'])).toMatchObject({ errorsBefore: 0, errorsAfter: 1 });
    expect((await result(folder, ['check'])).findings).toMatchObject([{ finding: 'asset-too-large' }]);
  });

  test.each([
    ['a size that is none', 'maxSize: two', /a size such as/u],
    ['a media type that is none', 'media: [png]', /a media type such as/u],
    ['bounds that nothing passes', 'minWidth: 9, maxWidth: 3', /more than the most/u],
  ])('%s is a mistake', async (_name, field, says) => {
    const [mistake] = (await result(light(field, 'tower.png'), ['check'])).mistakes;
    expect(`${mistake.says} ${mistake.mend}`).toMatch(says);
  });
});
