import { describe, expect, test } from 'vitest';
import { coast, edit, lumbrik, temporary } from './support/program.ts';

/** What every text for a person keeps to, whatever it says. */
async function expectWellSet(folder: string, args: readonly string[]): Promise<string> {
  const { out, err } = await lumbrik(folder, args);
  const text = out + err;
  expect([args, text.endsWith('\n'), text.endsWith('\n\n')]).toEqual([args, true, false]);
  for (const line of text.split('\n')) {
    expect([args, line, [...line].length <= 100]).toEqual([args, line, true]);
    expect([args, line]).toEqual([args, line.trimEnd()]);
    expect(line).not.toMatch(/undefined|\[object|NaN/u);
  }
  return text;
}

describe('what is printed for a person', () => {
  test('fits a hundred columns and ends cleanly, along the whole way', async () => {
    const start = temporary();
    for (const args of [
      ['new', 'x'],
      ['new', 'y', '--starter', 'lighthouses'],
      ['explain'],
      ['explain', 'text'],
      ['explain', 'max'],
      ['explain', 'change'],
      ['explain', 'zzz'],
      ['show'],
    ])
      await expectWellSet(start, args);
    const folder = coast();
    for (const args of [
      ['show'],
      ['show', 'lighthouse'],
      ['show', 'departure'],
      ['show', 'lighthouse.keepers'],
      ['show', 'region:'],
      ['show', 'tour/whole-sound'],
      ['trace', 'keeper/ada-rook', '--depth', '4'],
      ['trace', '--unlinked'],
      ['trace', 'keeper/ada-rook', '--deleting'],
      ['trace', 'tour/light-and-lens', '--publishing'],
      ['check'],
      ['history'],
      ['migration', 'list'],
    ])
      await expectWellSet(folder, args);
    await expectWellSet(folder, [
      'seal',
      '-m',
      'A message that goes on for rather longer than one would expect of a message, all told',
    ]);
    edit(folder, 'model/types/lighthouse.yaml', '  height: ', '  focalHeight: ');
    edit(folder, 'model/types/lighthouse.yaml', 'max: 300', 'max: 200');
    edit(folder, 'model/types/lighthouse.yaml', / {2}steps: .*\n/u, '');
    edit(folder, 'model/types/tour.yaml', 'minutes:    { kind: integer', 'minutes:    { kind: duration');
    edit(folder, 'model/types/tour.yaml', 'min: 15, max: 600', 'min: PT15M');
    for (const args of [
      ['check'],
      ['show'],
      ['diff'],
      ['history'],
      ['migration', 'draft'],
      ['migration', 'list'],
      ['migration', 'rehearse'],
      ['migration', 'run'],
    ])
      await expectWellSet(folder, args);
    edit(folder, 'model/types/lighthouse.yaml', 'titled: name', 'titled: nme');
    for (const args of [['check'], ['show'], ['migration', 'rehearse']]) await expectWellSet(folder, args);
  });

  test('says the next useful step', async () => {
    const folder = coast();
    expect(await expectWellSet(folder, ['check'])).toContain('› lumbrik seal -m');
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/lighthouse.yaml', 'max: 300', 'max: 200');
    expect(await expectWellSet(folder, ['diff'])).toContain('› lumbrik migration draft');
    expect(await expectWellSet(folder, ['migration', 'draft'])).toContain('› lumbrik migration rehearse 1');
    expect(await expectWellSet(folder, ['check'])).toContain('› lumbrik migration rehearse');
  });
});
