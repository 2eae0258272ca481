/** Ranges of code points, both ends included. */
export type Ranges = readonly (readonly [number, number])[];

/** The white space of ECMAScript (ECMA-262, 12.2 and 12.3), and all else. */
export const space: Ranges = [
  [0x9, 0xd],
  [0x20, 0x20],
  [0xa0, 0xa0],
  [0x1680, 0x1680],
  [0x2000, 0x200a],
  [0x2028, 0x2029],
  [0x202f, 0x202f],
  [0x205f, 0x205f],
  [0x3000, 0x3000],
  [0xfeff, 0xfeff],
];

/** The code points that are no space. */
export const noSpace: Ranges = [
  [0x0, 0x8],
  [0xe, 0x1f],
  [0x21, 0x9f],
  [0xa1, 0x167f],
  [0x1681, 0x1fff],
  [0x200b, 0x2027],
  [0x202a, 0x202e],
  [0x2030, 0x205e],
  [0x2060, 0x2fff],
  [0x3001, 0xfefe],
  [0xff00, 0x10ffff],
];

const ranges = new Map<string, Ranges>();

/** The characters that a set takes, found out by trying all of Unicode: a fiftieth of a second for each set that is requested. */
export function rangesOf(source: string): Ranges {
  const before = ranges.get(source);
  if (before !== undefined) return before;
  const foundRanges = (everyCharacter().match(new RegExp(`${source}+`, 'gu')) ?? []).flatMap(consecutive);
  ranges.set(source, foundRanges);
  return foundRanges;
}

/** A text of characters one after the other as a range; two where it goes across the gap of the surrogates. */
function consecutive(run: string): Ranges {
  const first = run.codePointAt(0) ?? 0;
  const last = [...run.slice(-2)].at(-1)?.codePointAt(0) ?? first;
  if (first < 0xd800 && last > 0xdfff) return [[first, 0xd7ff] as const, [0xe000, last] as const];
  return [[first, last]];
}

let characters: string | undefined;

/** Every character of Unicode in order, but for surrogates, which are none. */
function everyCharacter(): string {
  if (characters !== undefined) return characters;

  const parts: string[] = [];

  for (let from = 0; from <= 0x10ffff; from += 4096) {
    if (from >= 0xd000 && from <= 0xdfff) {
      if (from === 0xd000)
        parts.push(String.fromCodePoint(...Array.from({ length: 0x800 }, (_, index) => from + index)));
      continue;
    }
    parts.push(String.fromCodePoint(...Array.from({ length: 4096 }, (_, index) => from + index)));
  }

  characters = parts.join('');

  return characters;
}
