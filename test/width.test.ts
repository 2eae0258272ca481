import stringWidth from 'string-width';
import { describe, expect, test } from 'vitest';
import widthOf from '../src/view/width.ts';

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
