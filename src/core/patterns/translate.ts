import type { AST } from '@eslint-community/regexpp';
import { RE2JS } from 're2js';

/** A pattern that no engine can match in linear time, or none that we have. */
export class PatternRefused extends Error {
  override readonly name = 'PatternRefused';
  readonly mend: string;

  constructor(says: string, mend: string) {
    super(says);
    this.mend = mend;
  }
}

/** The largest pattern, counted in characters to match when all repetitions are written out. */
const largest = 5_000;

/**
 * Writes a parsed regular expression (ECMAScript, flag `u`) in the syntax of RE2, so that it means the same there:
 * `.`, `\s` and `$` differ between the two, characters by number are written in another way, and names of groups do not matter.
 * @throws {PatternRefused}
 */
export function toLinear(pattern: AST.Pattern): string {
  if (sizeOf(pattern) > largest)
    throw new PatternRefused(
      `is too large: written out it has more than ${largest} parts`,
      'Use `min` and `max` for the length of a text, and smaller repetitions.',
    );
  return choice(pattern.alternatives);
}

const choice = (alternatives: readonly AST.Alternative[]): string =>
  `(?:${alternatives.map(({ elements }) => elements.map(element).join('')).join('|')})`;

function element(node: AST.Element): string {
  switch (node.type) {
    case 'Assertion':
      return assertion(node);
    case 'Backreference':
      throw new PatternRefused(
        'refers back to a group, and how long that takes cannot be bounded',
        'Write it without, or as several fields.',
      );
    case 'CapturingGroup':
      return choice(node.alternatives);
    case 'Group':
      return choice(node.alternatives);
    case 'Character':
      return character(node.value);
    case 'CharacterClass':
      return characterClass(node);
    case 'CharacterSet':
      return node.kind === 'any' ? String.raw`[^\n\r\x{2028}\x{2029}]` : `[${characterSet(node)}]`;
    case 'Quantifier':
      return quantifier(node);
    default:
      throw new PatternRefused('has a part that is not known here', 'Write it more simply.');
  }
}

function assertion(node: AST.Assertion): string {
  switch (node.kind) {
    case 'start':
      return String.raw`\A`;
    case 'end':
      return String.raw`\z`;
    case 'word':
      return node.negate ? String.raw`\B` : String.raw`\b`;
    default:
      throw new PatternRefused(
        `looks ${node.kind === 'lookahead' ? 'ahead' : 'back'}, and how long that takes cannot be bounded`,
        'Say it as a rule of several patterns: `expect: entry.code.matches("…") && entry.code.matches("…")`.',
      );
  }
}

function quantifier({ element: inner, min, max }: AST.Quantifier): string {
  const one = `(?:${element(inner)})`;
  if (max === Number.POSITIVE_INFINITY) return `${repeated(one, min)}${one}*`;
  // What may follow stands inside what may come before it: `a{1,3}` as a, then at most twice one more.
  return `${repeated(one, min)}${repeated(one, max - min, '?')}`;
}

/** The engine takes a thousand repetitions at once. */
const atOnce = 1_000;

/** Something several times, or at most so many times; of nothing, nothing. */
function repeated(one: string, times: number, mark = ''): string {
  const parts: string[] = [];
  for (let left = times; left > 0; left -= atOnce) {
    const now = Math.min(left, atOnce);
    parts.push(mark === '' ? `(?:${one}){${now}}` : `(?:${one}){0,${now}}`);
  }
  return parts.join('');
}

/* ── single characters ───────────────────────────────────────────────────────────────────────────────────────── */

function character(value: number): string {
  if (value >= 0xd800 && value <= 0xdfff)
    throw new PatternRefused('names half of a character', 'Name whole characters: `\\u{1F600}`.');
  return `\\x{${value.toString(16)}}`;
}

function characterClass({ negate, elements }: AST.CharacterClass): string {
  // An empty class matches nothing, and its opposite anything: said as a set that the engine knows.
  if (elements.length === 0) return negate ? String.raw`[\x{0}-\x{10ffff}]` : String.raw`[^\x{0}-\x{10ffff}]`;
  return `[${negate ? '^' : ''}${elements.map(inClass).join('')}]`;
}

function inClass(node: AST.CharacterClassElement): string {
  switch (node.type) {
    case 'Character':
      return character(node.value);
    case 'CharacterClassRange':
      return `${character(node.min.value)}-${character(node.max.value)}`;
    case 'CharacterSet':
      return characterSet(node);
    default:
      throw new PatternRefused('has a set of characters that is not known here', 'List the characters one by one.');
  }
}

/** The white space of ECMAScript (ECMA-262, 12.2 and 12.3), and all else. */
const space = String.raw`\t-\r\x{20}\x{a0}\x{1680}\x{2000}-\x{200a}\x{2028}\x{2029}\x{202f}\x{205f}\x{3000}\x{feff}`;
const noSpace = String.raw`\x{0}-\x{8}\x{e}-\x{1f}\x{21}-\x{9f}\x{a1}-\x{167f}\x{1681}-\x{1fff}\x{200b}-\x{2027}\x{202a}-\x{202e}\x{2030}-\x{205e}\x{2060}-\x{2fff}\x{3001}-\x{fefe}\x{ff00}-\x{10ffff}`;

/** A set of characters, as it stands between brackets. */
function characterSet(node: AST.CharacterSet): string {
  switch (node.kind) {
    case 'any':
      throw new PatternRefused('has a set of characters that is not known here', 'List the characters one by one.');
    case 'digit':
      return node.negate ? String.raw`\D` : String.raw`\d`;
    case 'word':
      return node.negate ? String.raw`\W` : String.raw`\w`;
    case 'space':
      return node.negate ? noSpace : space;
    case 'property':
      return property(node);
  }
}

/** `\p{Letter}`, `\p{Script=Greek}`: under the name that the engine has for it, else by its characters. */
function property({ key, value, negate, raw }: AST.UnicodePropertyCharacterSet): string {
  const name = `${negate ? '\\P' : '\\p'}{${value ?? key}}`;
  const isCategoryOrScript = value !== null && /^(?:gc|General_Category|sc|Script)$/u.test(key);
  if ((isCategoryOrScript || value === null) && isKnown(name)) return name;
  return rangesOf(raw);
}

function isKnown(name: string): boolean {
  try {
    RE2JS.compile(name);
    return true;
  } catch {
    return false;
  }
}

const ranges = new Map<string, string>();

/** The characters that a set takes, found out by trying all of Unicode: a fiftieth of a second for each set that is asked for. */
function rangesOf(source: string): string {
  const before = ranges.get(source);
  if (before !== undefined) return before;
  const runs = everyCharacter().match(new RegExp(`${source}+`, 'gu')) ?? [];
  const written = runs
    .flatMap(consecutive)
    .map(([first, last]) => `${character(first)}-${character(last)}`)
    .join('');

  ranges.set(source, written);
  return written;
}

/** A text of characters one after the other as a range; two where it goes across the gap of the surrogates. */
function consecutive(run: string): readonly (readonly [number, number])[] {
  const first = run.codePointAt(0) ?? 0;
  const last = [...run.slice(-2)].at(-1)?.codePointAt(0) ?? first;
  if (first < 0xd800 && last > 0xdfff) return [[first, 0xd7ff] as const, [0xe000, last] as const];
  return [[first, last]];
}

let all: string | undefined;

/** Every character of Unicode in order, but for surrogates, which are none. */
function everyCharacter(): string {
  if (all !== undefined) return all;
  const parts: string[] = [];

  for (let from = 0; from <= 0x10ffff; from += 4096) {
    if (from >= 0xd000 && from <= 0xdfff) {
      if (from === 0xd000)
        parts.push(String.fromCodePoint(...Array.from({ length: 0x800 }, (_, index) => from + index)));
      continue;
    }
    parts.push(String.fromCodePoint(...Array.from({ length: 4096 }, (_, index) => from + index)));
  }
  all = parts.join('');
  return all;
}

/* ── how large it is ─────────────────────────────────────────────────────────────────────────────────────────── */

/** How many characters a pattern matches when all its repetitions are written out; endless ones count as one more. */
function sizeOf(node: AST.Pattern | AST.Element | AST.Alternative): number {
  switch (node.type) {
    case 'Pattern':
    case 'CapturingGroup':
    case 'Group':
      return node.alternatives.reduce((sum, one) => sum + sizeOf(one), 1);
    case 'Alternative':
      return node.elements.reduce((sum, one) => sum + sizeOf(one), 0);
    case 'Quantifier':
      return sizeOf(node.element) * Math.max(1, node.max === Number.POSITIVE_INFINITY ? node.min + 1 : node.max);
    default:
      return 1;
  }
}
