import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { makeRevision, revisionText } from '../src/core/revision/chain.ts';
import { edit, lumbrik, read, result, temporary, workspace, write } from './support/program.ts';

/** A model that is large enough to be remembered: many types of many fields. */
const large = () =>
  workspace(
    Object.fromEntries(
      Array.from({ length: 120 }, (_, n) => [
        `model/types/place${n}.yaml`,
        `type: place${n}\nfields:\n${Array.from({ length: 40 }, (_field, at) => `  field${at}: { kind: text, max: ${at + 1}, help: What authors read beside it. }\n`).join('')}`,
      ]),
    ),
  );

/** The one file in which something is remembered. */
function remembered(folder: string, space: string): string {
  const place = path.join('.lumbrik/memory', space);
  const names = fs.readdirSync(path.join(folder, place));
  expect(names.length).toBe(1);
  return path.join(place, names[0] ?? '');
}

describe('a large model is remembered while its files stay the same [M1]', () => {
  test('and gives the same results; a change of one letter is seen', async () => {
    const folder = large();
    const first = await result(folder, ['show', 'place7']);
    const file = remembered(folder, 'model');
    expect(read(folder, file)).toMatch(/^[0-9a-f]{64}\{/u);
    expect(await result(folder, ['show', 'place7'])).toEqual(first);
    edit(folder, 'model/types/place7.yaml', 'max: 3,', 'max: 9,');
    expect((await result(folder, ['show', 'place7.field2'])).field.options.max).toBe(9);
    edit(folder, 'model/types/place7.yaml', 'max: 9,', 'mxa: 9,');
    expect((await result(folder, ['check'])).mistakes).toMatchObject([{ file: 'model/types/place7.yaml', line: 5 }]);
    fs.rmSync(path.join(folder, 'model/types/place7.yaml'));
    expect((await lumbrik(folder, ['show', 'place7'])).code).toBe(2);
  });

  test.each([
    ['is cut off', (text: string) => text.slice(0, 2000)],
    ['is no JSON', () => 'x\n{'],
    ['is of other files', (text: string) => text.replace(/^./u, 'x')],
    ['was edited by hand', (text: string) => text.replaceAll('"max":3', '"max":4000')],
    ['lacks its model', (text: string) => `${text.split('\n')[0]}\n{}`],
    ['is empty', () => ''],
  ])('where what is remembered %s, the files themselves are read', async (_name, spoil) => {
    const folder = large();
    const first = await result(folder, ['show', 'place7']);
    const file = remembered(folder, 'model');
    write(folder, { [file]: spoil(read(folder, file)) });
    expect(await result(folder, ['show', 'place7'])).toEqual(first);
  });

  test('what is remembered elsewhere is not believed here, whatever it says of itself', async () => {
    const folder = large();
    write(folder, { 'content/place7/a.yaml': 'field2: far too long\n' });
    await lumbrik(folder, ['show']);
    const file = remembered(folder, 'model');
    const elsewhere = { XDG_STATE_HOME: temporary() };
    write(folder, { [file]: read(folder, file).replaceAll('"max":3', '"max":4000') });
    expect(await result(folder, ['check'])).toMatchObject({ code: 1, findings: [{ finding: 'too-long' }] });
    expect((await lumbrik(folder, ['check'], elsewhere)).code).toBe(1);
  });
});

describe('a large revision that was looked through before is not looked through again [M1]', () => {
  const sealed = async () => {
    const folder = large();
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/place7.yaml', 'max: 3,', 'max: 2,');
    return folder;
  };

  test('and what comes of it is the same, whatever became of what is remembered', async () => {
    const folder = await sealed();
    const first = await result(folder, ['diff']);
    expect(first.changes).toMatchObject([{ address: 'place7.field2', option: 'max' }]);
    const file = remembered(folder, 'revisions');
    const mark = read(folder, file);
    expect(mark).toMatch(/^[0-9a-f]{64}$/u);
    for (const spoilt of [mark, '', 'x', mark.slice(0, 40), mark.replaceAll(/[0-9]/gu, 'a'), `${mark}${mark}`]) {
      write(folder, { [file]: spoilt });
      expect(await result(folder, ['diff'])).toEqual(first);
      expect((await lumbrik(folder, ['history'])).code).toBe(0);
    }
    fs.rmSync(path.join(folder, file));
    fs.mkdirSync(path.join(folder, file));
    expect(await result(folder, ['diff'])).toEqual(first);
    fs.rmSync(path.join(folder, '.lumbrik/memory'), { recursive: true });
    write(folder, { 'elsewhere.txt': 'as it was' });
    fs.symlinkSync('../elsewhere.txt', path.join(folder, '.lumbrik/memory'));
    expect(await result(folder, ['diff'])).toEqual(first);
    expect(read(folder, 'elsewhere.txt')).toBe('as it was');
  });

  test('one that is altered since is found out all the same', async () => {
    const folder = await sealed();
    await lumbrik(folder, ['diff']);
    edit(folder, 'revisions/0001.json', '"max":3}', '"max":4}');
    expect(await lumbrik(folder, ['diff'])).toMatchObject({ code: 2, err: expect.stringContaining('was altered') });
  });

  test('one that is none is never believed, whatever says that it was looked through', async () => {
    const folder = await sealed();
    const { hash: _, ...parts } = JSON.parse(read(folder, 'revisions/0001.json'));
    parts.model.types.place7.fields.field2 = { kind: 'no such kind' };
    const wrong = makeRevision(parts);
    write(folder, {
      'revisions/0001.json': revisionText(wrong),
      [`.lumbrik/memory/revisions/${wrong.hash}`]: 'a'.repeat(64),
    });
    expect(await lumbrik(folder, ['diff'])).toMatchObject({ code: 2, err: expect.stringContaining('was altered') });
  });
});
