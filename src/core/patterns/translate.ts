import type { AST } from '@eslint-community/regexpp';
import { RE2JS } from 're2js';
import { noSpace, type Ranges, rangesOf, space } from './characterRanges.ts';

/** A pattern that no engine can match in linear time, or none that we have. */
export class PatternRefused extends Error {
  override readonly name = 'PatternRefused';
  readonly mend: string;

  constructor(message: string, mend: string) {
    super(message);
    this.mend = mend;
  }
}

/** The largest pattern, counted in characters to match when all repetitions are written out. */
const largest = 5_000;

/** How an engine writes what a regular expression is made of. */
interface Dialect {
  readonly start: string;
  readonly end: string;
  readonly word: string;
  readonly noWord: string;
  /** A character by its number. */
  readonly character: (value: number) => string;
  /** Sets of characters, as they stand between brackets. */
  readonly digit: string;
  readonly noDigit: string;
  readonly wordSign: string;
  readonly noWordSign: string;
  /** `\p{Letter}` under the name that the engine has for it, with `P` for its opposite; `undefined` where it has none. */
  readonly property: (name: string) => string | undefined;
  /** The first character that there is. */
  readonly first: number;
  /** The most repetitions that it takes at once. */
  readonly atOnce: number;
  /** Whether it looks ahead and back, and is read by people. */
  readonly looks: boolean;
  /** Whether what groups match is requested: texts are replaced by it. */
  readonly captures: boolean;
}

/** The syntax of RE2. */
const linear: Dialect = {
  start: String.raw`\A`,
  end: String.raw`\z`,
  word: String.raw`\b`,
  noWord: String.raw`\B`,
  character: (value) => `\\x{${value.toString(16)}}`,
  digit: String.raw`\d`,
  noDigit: String.raw`\D`,
  wordSign: String.raw`\w`,
  noWordSign: String.raw`\W`,
  property: (name) => (isKnown(name) ? name : undefined),
  first: 0,
  atOnce: 1_000,
  looks: false,
  captures: true,
};

const wordSigns = '0-9A-Z_a-z';

/** The advanced regular expressions of PostgreSQL (its manual, 9.7.3), on texts in UTF-8. */
const postgres: Dialect = {
  start: String.raw`\A`,
  end: String.raw`\Z`,
  // Its own word boundaries know letters of all languages; those of ECMAScript (ECMA-262, 22.2.2.9.3) do not.
  word: `(?:(?<=[${wordSigns}])(?![${wordSigns}])|(?<![${wordSigns}])(?=[${wordSigns}]))`,
  noWord: `(?:(?<=[${wordSigns}])(?=[${wordSigns}])|(?<![${wordSigns}])(?![${wordSigns}]))`,
  character: (value) => {
    const sign = String.fromCodePoint(value);
    if (value >= 0x20 && value < 0x7f) return /[\w ]/u.test(sign) ? sign : `\\${sign}`;
    if (value > 0xffff) return `\\U${value.toString(16).padStart(8, '0')}`;
    return `\\u${Math.max(value, 1).toString(16).padStart(4, '0')}`;
  },
  digit: '0-9',
  noDigit: String.raw`\u0001-\u002f\u003a-\U0010ffff`,
  wordSign: wordSigns,
  noWordSign: String.raw`\u0001-\u002f\u003a-\u0040\u005b-\u005e\u0060\u007b-\U0010ffff`,
  property: () => undefined,
  first: 1,
  atOnce: 255,
  looks: true,
  captures: false,
};

/**
 * Writes a parsed regular expression (ECMAScript, flag `u`) in the syntax of RE2, so that it means the same there:
 * `.`, `\s` and `$` differ between the two, and characters by number are written in another way.
 * @throws {PatternRefused}
 */
export const toLinear = (pattern: AST.Pattern): string => written(pattern, linear);

/** Writes one in the syntax of PostgreSQL. @throws {PatternRefused} where it cannot be stated there. */
export const toPostgres = (pattern: AST.Pattern): string => written(pattern, postgres);

function written(pattern: AST.Pattern, dialect: Dialect): string {
  if (sizeOf(pattern) > largest)
    throw new PatternRefused(
      `is too large: written out it has more than ${largest} parts`,
      'Use `min` and `max` for the length of a text, and smaller repetitions.',
    );
  return new Writer(dialect).choice(pattern.alternatives);
}

class Writer {
  readonly #dialect: Dialect;

  constructor(dialect: Dialect) {
    this.#dialect = dialect;
  }

  choice(alternatives: readonly AST.Alternative[]): string {
    const written = alternatives.map(({ elements }) => elements.map((element) => this.#element(element)).join(''));
    const [only = ''] = written;
    if (this.#dialect.looks && written.length === 1) return only;
    return `(?:${written.join('|')})`;
  }

  /** A group that a replacement may refer to, in the engine that replaces. */
  #captured({ name, alternatives }: AST.CapturingGroup): string {
    const inner = this.choice(alternatives);
    if (!this.#dialect.captures) return inner;
    if (name === null) return `(${inner})`;
    return `(?P<${name}>${inner})`;
  }

  #element(node: AST.Element): string {
    switch (node.type) {
      case 'Assertion':
        return this.#assertion(node);
      case 'Backreference':
        throw new PatternRefused(
          'refers back to a group, and how long that takes cannot be bounded',
          'Write it without, or as several fields.',
        );
      case 'CapturingGroup':
        return this.#captured(node);
      case 'Group':
        return this.choice(node.alternatives);
      case 'Character':
        return this.#character(node.value);
      case 'CharacterClass':
        return this.#characterClass(node);
      case 'CharacterSet':
        if (node.kind === 'any')
          return `[^${[0xa, 0xd, 0x2028, 0x2029].map((code) => this.#character(code)).join('')}]`;
        return `[${this.#characterSet(node)}]`;
      case 'Quantifier':
        return this.#quantifier(node);
      default:
        throw new PatternRefused('has a part that is not known here', 'Write it more simply.');
    }
  }

  #assertion(node: AST.Assertion): string {
    switch (node.kind) {
      case 'start':
        return this.#dialect.start;
      case 'end':
        return this.#dialect.end;
      case 'word':
        if (node.negate) return this.#dialect.noWord;
        return this.#dialect.word;
      default: {
        const isAhead = node.kind === 'lookahead';
        if (!this.#dialect.looks)
          throw new PatternRefused(
            `looks ${isAhead ? 'ahead' : 'back'}, and how long that takes cannot be bounded`,
            'Say it as a rule of several patterns: `expect: entry.code.matches("…") && entry.code.matches("…")`.',
          );
        return `(?${isAhead ? '' : '<'}${node.negate ? '!' : '='}${this.choice(node.alternatives)})`;
      }
    }
  }

  #quantifier({ element: inner, min, max }: AST.Quantifier): string {
    const isAtom = this.#dialect.looks && (inner.type === 'Character' || inner.type === 'CharacterClass');
    const atom = isAtom ? this.#element(inner) : `(?:${this.#element(inner)})`;
    const { atOnce } = this.#dialect;
    if (this.#dialect.looks && min <= atOnce && (max <= atOnce || max === Number.POSITIVE_INFINITY))
      return `${atom}${timesText(min, max)}`;
    if (max === Number.POSITIVE_INFINITY) return `${this.#repeated(atom, min)}${atom}*`;
    // What may follow stands inside what may come before it: `a{1,3}` as a, then at most twice one more.
    return `${this.#repeated(atom, min)}${this.#repeated(atom, max - min, '?')}`;
  }

  /** Something several times, or at most so many times; of nothing, nothing. */
  #repeated(atom: string, times: number, mark = ''): string {
    const { atOnce } = this.#dialect;
    const parts: string[] = [];
    for (let remaining = times; remaining > 0; remaining -= atOnce) {
      const times = Math.min(remaining, atOnce);
      parts.push(mark === '' ? `(?:${atom}){${times}}` : `(?:${atom}){0,${times}}`);
    }

    return parts.join('');
  }

  /* ── single characters ─────────────────────────────────────────────────────────────────────────────────────── */

  #character(value: number): string {
    if (value >= 0xd800 && value <= 0xdfff)
      throw new PatternRefused('names half of a character', 'Name whole characters: `\\u{1F600}`.');
    return this.#dialect.character(value);
  }

  #range(first: number, last: number): string {
    return `${this.#character(first)}-${this.#character(last)}`;
  }

  #characterClass({ negate, elements }: AST.CharacterClass): string {
    // An empty class matches nothing, and its opposite anything: said as a set that the engine knows.
    if (elements.length === 0) return `[${negate ? '' : '^'}${this.#range(this.#dialect.first, 0x10ffff)}]`;
    return `[${negate ? '^' : ''}${elements.map((element) => this.#inClass(element)).join('')}]`;
  }

  #inClass(node: AST.CharacterClassElement): string {
    switch (node.type) {
      case 'Character':
        return this.#character(node.value);
      case 'CharacterClassRange':
        // What no text holds here, halves of characters, may be in a range and means nothing.
        if (this.#dialect.looks && node.min.value >= 0xd800 && node.max.value <= 0xdfff) return '';
        return this.#range(node.min.value, node.max.value);
      case 'CharacterSet':
        return this.#characterSet(node);
      default:
        throw new PatternRefused('has a set of characters that is not known here', 'List the characters one by one.');
    }
  }

  /** A set of characters, as it stands between brackets. */
  #characterSet(node: AST.CharacterSet): string {
    switch (node.kind) {
      case 'any':
        throw new PatternRefused('has a set of characters that is not known here', 'List the characters one by one.');
      case 'digit':
        if (node.negate) return this.#dialect.noDigit;
        return this.#dialect.digit;
      case 'word':
        if (node.negate) return this.#dialect.noWordSign;
        return this.#dialect.wordSign;
      case 'space':
        return this.#ranges(node.negate ? noSpace : space);
      case 'property':
        return this.#property(node);
    }
  }

  /** `\p{Letter}`, `\p{Script=Greek}`: under the name that the engine has for it, else by its characters. */
  #property({ key, value, negate, raw }: AST.UnicodePropertyCharacterSet): string {
    const name = `${negate ? '\\P' : '\\p'}{${value ?? key}}`;
    const isCategoryOrScript = value !== null && /^(?:gc|General_Category|sc|Script)$/u.test(key);
    const property = isCategoryOrScript || value === null ? this.#dialect.property(name) : undefined;
    return property ?? this.#ranges(rangesOf(raw));
  }

  #ranges(ranges: Ranges): string {
    return ranges.map(([first, last]) => this.#range(Math.max(first, this.#dialect.first), last)).join('');
  }
}

/** How often something stands, as regular expressions are written by hand. */
function timesText(min: number, max: number): string {
  if (max === Number.POSITIVE_INFINITY) return ['*', '+'][min] ?? `{${min},}`;
  if (min === max) return `{${min}}`;
  if (min === 0 && max === 1) return '?';
  return `{${min},${max}}`;
}

function isKnown(name: string): boolean {
  try {
    RE2JS.compile(name);
    return true;
  } catch {
    return false;
  }
}

/* ── how large it is ─────────────────────────────────────────────────────────────────────────────────────────── */

/** How many characters a pattern matches when all its repetitions are written out; endless ones count as one more. */
function sizeOf(node: AST.Pattern | AST.Element | AST.Alternative): number {
  switch (node.type) {
    case 'Pattern':
    case 'CapturingGroup':
    case 'Group':
      return node.alternatives.reduce((sum, alternative) => sum + sizeOf(alternative), 1);
    case 'Alternative':
      return node.elements.reduce((sum, element) => sum + sizeOf(element), 0);
    case 'Quantifier':
      return sizeOf(node.element) * Math.max(1, node.max === Number.POSITIVE_INFINITY ? node.min + 1 : node.max);
    default:
      return 1;
  }
}
