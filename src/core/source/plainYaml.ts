import type { Json } from '../plain/json.ts';

/**
 * Reads the YAML that front matter is mostly written in: keys that are words, texts, numbers and quotes on one line,
 * lists and groups of keys by indentation or in brackets on one line, comments. It says the same of these as the full
 * parser, several times as fast.
 * @returns `undefined` for everything else, be it more of YAML or none: that is the full parser's business.
 */
export function readPlainYaml(text: string): Json | undefined {
  if (unusual.test(text)) return undefined;
  try {
    return new PlainReader(text).document();
  } catch (error) {
    if (error === notPlain) return undefined;
    throw error;
  }
}

/** Blanks other than spaces, and what else is no part of a usual text. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what it is about.
const unusual = /[\u0000-\u0009\u000b-\u001f\u2028\u2029\uFEFF]/u;

/** Thrown where a text turns out to need the full parser. */
const notPlain = new Error('this YAML is not plain');

function giveUp(): never {
  throw notPlain;
}

/** Deeper levels are left to the full parser, which knows how to refuse them. */
const deepest = 60;

/** A line with something on it. */
interface Line {
  readonly indent: number;
  /** The text after the indentation, to the end of the line. */
  readonly content: string;
}

class PlainReader {
  readonly #text: string;
  #at = 0;
  /** The next line that holds something; `undefined` at the end. */
  #line: Line | undefined;

  constructor(text: string) {
    this.#text = text;
    this.#advance();
  }

  document(): Json {
    if (this.#line?.indent !== 0 || !keyStart.test(this.#line.content)) return giveUp();
    const data = this.#mapping(0, 0);
    if (this.#line === undefined) return data;
    return giveUp();
  }

  /** Goes on to the next line that holds more than a comment. */
  #advance(): void {
    const text = this.#text;
    while (this.#at < text.length) {
      const end = text.indexOf('\n', this.#at);
      const stop = end < 0 ? text.length : end;
      let start = this.#at;
      while (start < stop && text.charCodeAt(start) === space) start += 1;
      const indent = start - this.#at;
      this.#at = stop + 1;
      if (start === stop || text.charCodeAt(start) === hash) continue;

      const content = text.slice(start, stop);
      if (indent === 0 && /^(?:---|\.\.\.|%)/u.test(content)) giveUp();
      this.#line = { indent, content };

      return;
    }

    this.#line = undefined;
  }

  /** A group of keys or a list that stands deeper than its key; nothing where there is none. */
  #block(above: number, depth: number, mayBeLevel: boolean): Json {
    const line = this.#line;
    if (!line || line.indent < above) return null;
    const isList = isItem(line.content);
    if (line.indent === above) return isList && mayBeLevel ? this.#sequence(above, depth + 1) : null;
    if (isList) return this.#sequence(line.indent, depth + 1);
    return this.#mapping(line.indent, depth + 1);
  }

  #mapping(indent: number, depth: number): Json {
    if (depth > deepest) giveUp();
    const data: Record<string, Json> = {};
    for (let line = this.#line; line && line.indent >= indent; line = this.#line) {
      if (line.indent > indent) giveUp();
      const { content } = line;
      const key = keyStart.exec(content)?.[1];
      if (key === undefined) break;

      if (Object.hasOwn(data, key) || key === '__proto__') giveUp();
      const rest = content.slice(key.length + 1);
      this.#advance();
      data[key] = this.#value(rest, indent, depth, true);
    }

    // A line of the same level that is no key ends a list that stands level with its key, and nothing else.
    if (this.#line && this.#line.indent === indent) giveUp();

    return data;
  }

  #sequence(indent: number, depth: number): Json {
    if (depth > deepest) giveUp();
    const items: Json[] = [];
    for (let line = this.#line; line && line.indent >= indent; line = this.#line) {
      if (line.indent > indent) giveUp();
      if (!isItem(line.content)) break;
      items.push(this.#item(line, indent, depth));
    }

    return items;
  }

  #item({ content }: Line, indent: number, depth: number): Json {
    const inside = /^- +/u.exec(content)?.[0].length ?? content.length;
    const rest = content.slice(inside);
    if (keyStart.test(rest) || isItem(rest)) {
      // What follows the dash stands as deep as it would on its own line.
      this.#line = { indent: indent + inside, content: rest };
      return this.#block(indent, depth, false);
    }

    this.#advance();
    return this.#value(content.slice(1), indent, depth, false);
  }

  /** The text after a colon or a dash, or on the lines below. */
  #value(rest: string, indent: number, depth: number, mayBeLevel: boolean): Json {
    const text = withoutSpaces(rest);
    if (text === '' || text.startsWith('#')) return this.#block(indent, depth, mayBeLevel);

    // A text may go on for several lines, all deeper than where it began.
    if (this.#line && this.#line.indent > indent) giveUp();
    const reader = new LineReader(text);
    const value = reader.value(false);
    reader.end();
    return value;
  }
}

/** A key that is a word, with its colon. */
const keyStart = /^([\p{L}_$](?:[\p{L}\p{N}_$/.-]|:(?=[\p{L}\p{N}]))*):(?= |$)/u;

const isItem = (content: string): boolean => content === '-' || content.startsWith('- ');

const space = 0x20;
const hash = 0x23;

/** Reads a value that is on one line. */
class LineReader {
  readonly #text: string;
  #at = 0;

  constructor(text: string) {
    this.#text = text;
  }

  /** @param isInside whether it is in brackets, where fewer characters may be part of a text. */
  value(isInside: boolean, depth = 0): Json {
    if (depth > deepest) giveUp();
    switch (this.#text[this.#at]) {
      case '"':
        return JSON.parse(this.#take(doubleQuoted)) as string;
      case "'":
        return this.#take(singleQuoted).slice(1, -1).replaceAll("''", "'");
      case '[':
        return this.#list(depth);
      case '{':
        return this.#group(depth);
      default:
        return isInside ? resolved(withoutSpaces(this.#take(plainInside))) : this.#plain();
    }
  }

  /** Nothing may follow but a comment. */
  end(): void {
    const rest = this.#text.slice(this.#at);
    if (rest !== '' && !/^ +(?:#|$)/u.test(rest)) giveUp();
  }

  /** A text without quotes, to the end of the line or to a comment. */
  #plain(): Json {
    const comment = this.#text.indexOf(' #', this.#at);
    const text = withoutSpaces(this.#text.slice(this.#at, comment < 0 ? undefined : comment));
    if (!plainStart.test(text) || text.endsWith(':') || text.includes(': ')) giveUp();
    this.#at = this.#text.length;
    return resolved(text);
  }

  #list(depth: number): Json {
    const items: Json[] = [];
    this.#at += 1;
    this.#skip();
    while (this.#text[this.#at] !== ']') {
      items.push(this.value(true, depth + 1));
      this.#separator(']');
    }

    this.#at += 1;
    return items;
  }

  #group(depth: number): Json {
    const data: Record<string, Json> = {};
    this.#at += 1;
    this.#skip();
    while (this.#text[this.#at] !== '}') {
      const key = this.#take(keyInside).slice(0, -1);
      if (Object.hasOwn(data, key) || key === '__proto__') giveUp();
      this.#skip();
      data[key] = this.value(true, depth + 1);
      this.#separator('}');
    }

    this.#at += 1;

    return data;
  }

  /** A comma with another value behind it, or a closing bracket. */
  #separator(closing: string): void {
    this.#skip();
    if (this.#text[this.#at] === closing) return;
    if (this.#text[this.#at] !== ',' || this.#text[this.#at + 1] !== ' ') giveUp();
    this.#at += 1;
    this.#skip();
    if (this.#text[this.#at] === closing) giveUp();
  }

  #skip(): void {
    while (this.#text[this.#at] === ' ') this.#at += 1;
  }

  /** @param pattern a sticky expression. */
  #take(pattern: RegExp): string {
    pattern.lastIndex = this.#at;
    const match = pattern.exec(this.#text)?.[0];
    if (match === undefined) return giveUp();
    this.#at += match.length;
    return match;
  }
}

/** Without the spaces around it; no other blank is one to YAML. */
const withoutSpaces = (text: string): string => text.replace(/^ +| +$/gu, '');

/** With the escapes that JSON has too. */
const doubleQuoted = /"(?:[^"\\]|\\["\\/bfnrt]|\\u(?![dD][89a-fA-F])[0-9a-fA-F]{4})*"(?=[ ,\]}]|$)/uy;
const singleQuoted = /'(?:[^']|'')*'(?=[ ,\]}]|$)/uy;
const keyInside = /[\p{L}_$](?:[\p{L}\p{N}_$/.-]|:(?=[\p{L}\p{N}]))*:(?= )/uy;
/** A text without quotes in brackets: no colon, no number sign, nothing that means something elsewhere at its start. */
const plainInside = /(?:[^\s,[\]{}#&*!|>'"%@`?:-]|-(?=[^\s,[\]{}-]))[^,[\]{}#:]*(?=[,\]}])/uy;
const plainStart = /^(?:[^\s,[\]{}#&*!|>'"%@`?:-]|-(?=[^\s-]))/u;

/** What a text without quotes means: nothing, a truth value, a number, or itself. */
function resolved(text: string): Json {
  const first = text.charCodeAt(0);
  const isNumeric = (first >= 0x2b && first <= 0x2e) || (first >= 0x30 && first <= 0x39);
  if (isNumeric) {
    if (usualNumber.test(text)) return text === '-0' ? giveUp() : Number(text);
    if (!anyNumber.test(text)) return text;
    return giveUp();
  }

  const existing = words.get(text);
  if (existing === undefined) return text;
  return existing;
}

const usualNumber = /^-?(?:0|[1-9]\d{0,14})(?:\.\d{1,15})?$/u;
/** All that the core schema of YAML 1.2 takes for a number, and more. */
const anyNumber = /^[-+]?(?:0o[0-7]+|0x[0-9a-f]+|(?:\.\d+|\d+\.?\d*)(?:e[-+]?\d+)?|\.inf|\.nan)$/iu;

const words: ReadonlyMap<string, null | boolean> = new Map<string, null | boolean>([
  ...['~', 'null', 'Null', 'NULL'].map((word) => [word, null] as const),
  ...['true', 'True', 'TRUE'].map((word) => [word, true] as const),
  ...['false', 'False', 'FALSE'].map((word) => [word, false] as const),
]);
