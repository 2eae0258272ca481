import stringWidth from 'string-width';
import { describe, expect, test } from 'vitest';
import widthOf from '../src/view/width.ts';
import { coast, edit, lumbrik } from './support/program.ts';
import { hasTerminal, onTerminal } from './support/terminal.ts';

describe('how wide a text is', () => {
  const letters = Array.from({ length: 0x3000 }, (_, code) => String.fromCodePoint(code));

  test('is what the package says of every letter, alone and before and after others', () => {
    const differ = letters.filter((letter) =>
      [letter, `a${letter}`, `${letter}é`, `→${letter}${letter}Ж`].some((text) => widthOf(text) !== stringWidth(text)),
    );
    expect(differ).toEqual([]);
    for (const text of ['日本', '👍', '👨‍👩‍👧', '©️', '\u001b[31mred\u001b[39m', 'e\u0301', '\u00ad'])
      expect([text, widthOf(text)]).toEqual([text, stringWidth(text)]);
  });
});

describe.runIf(hasTerminal)('a terminal of forty columns [I4]', () => {
  test('has no line that is wider, unless a single word is', async () => {
    const folder = coast();
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/lighthouse.yaml', '  range:', '  reach:');
    await lumbrik(folder, ['migration', 'draft']);
    for (const call of [
      ['show'],
      ['show', 'lighthouse'],
      ['check'],
      ['diff'],
      ['migration', 'rehearse'],
      ['terms', 'region'],
      ['profile'],
      ['map'],
      ['explain', 'written'],
      ['show', 'lighthouse.nme'],
    ]) {
      const { screen } = await onTerminal(folder, call, [], { COLUMNS: '40', PAGER: 'cat' });
      const lines = screen.split(/\r?\n/u).map((line) => line.split('\r').at(-1) ?? '');
      const wide = lines.filter((line) => widthOf(line) > 40 && line.trim().split(/ +/u).length > 1);
      expect([call, wide]).toEqual([call, []]);
      expect(lines.length).toBeGreaterThan(1);
    }
  });
});
