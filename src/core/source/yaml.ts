import {
  type Document,
  isCollection,
  isMap,
  isScalar,
  isSeq,
  Lexer,
  LineCounter,
  type Node,
  type Pair,
  parseDocument,
  visit,
  type YAMLError,
  type YAMLMap,
} from 'yaml';
import { isDeeperThan } from '../plain/depth.ts';
import type { Json, Path } from '../plain/json.ts';
import type { Limits } from '../plain/limits.ts';
import type { Outcome } from '../plain/outcome.ts';
import { groupThousands } from '../plain/words.ts';
import { readPlainYaml } from './plainYaml.ts';
import { deepestLevel, isNestedTooDeeply } from './yamlDepth.ts';

/** A place in a text; lines and columns count from 1, columns in UTF-16 code units as editors do. */
export interface Position {
  readonly line: number;
  readonly column: number;
}

/** From where to where something stands; its end is the place after its last character. */
export interface Span {
  readonly start: Position;
  readonly end: Position;
}

/** The place before the first character, of text nowhere in particular. */
export const textStart: Span = { start: { line: 1, column: 1 }, end: { line: 1, column: 1 } };

/** A text that could be read: its content, and where each part of it stands. */
export interface Source {
  readonly data: Json;
  /** Where the value at a path stands, or the nearest thing around it that does exist. */
  readonly locate: (path: Path) => Position;
  /** From where to where it stands. */
  readonly span: (path: Path) => Span;
  /** Where the key itself stands that leads to a path. */
  readonly locateKey: (path: Path) => Position;
}

/** Why a text could not be read. */
interface Unreadable extends Position {
  readonly says: string;
  readonly mend: string;
}

/** A YAML text that was read, or its problem. */
export type Reading = Outcome<Source, Unreadable>;

/**
 * Reads YAML 1.2 (core schema; JSON is a part of it) as plain data. Keys are always texts, dates stay texts, and a key
 * may stand only once. Custom tags, merge keys and several documents in one file are refused; the parser bounds how
 * far aliases may multiply.
 */
export function readYaml(text: string, { fileNodes: most }: Pick<Limits, 'fileNodes'>): Reading {
  if (hasMoreThan(most, text))
    return refuse(
      `it holds more than ${groupThousands(most)} keys, values and items`,
      'Split it, or raise `limits: { fileNodes: … }` in lumbrik.yaml.',
    );

  const plain = readPlainYaml(text);
  if (plain !== undefined) return { value: sourceOf(text, plain) };
  if (isNestedTooDeeply(text)) return tooDeep;

  try {
    return readBounded(text);
  } catch (error) {
    if (error instanceof ReferenceError)
      return refuse('its aliases multiply without bound', 'Write the repeated parts out, or use fewer aliases.');
    throw error;
  }
}

/**
 * Whether a text holds more than so many keys, values and items. Told from its tokens, which take no memory, before a tree
 * is made of it, which takes a thousand times as much as the text.
 */
function hasMoreThan(most: number, text: string): boolean {
  // No text has more of them than characters, and hardly any file is so large that they need be counted.
  if (text.length <= most) return false;

  let count = 0;
  for (const token of new Lexer().lex(text)) {
    if (starts.has(token)) count += 1;
    if (count > most) return true;
  }

  return false;
}

/** Tokens that start something: a scalar (which the lexer announces by a unit separator), an item, a pair, a collection. */
const starts = new Set(['\u001f', '-', ':', ',', '[', '{']);

const refuse = (message: string, mend: string): Reading => ({ problem: { says: message, mend, line: 1, column: 1 } });
const tooDeep = refuse('it is nested too deeply', `Nest lists and keys at most ${deepestLevel} levels deep.`);

function readBounded(text: string): Reading {
  const { document, lines } = parse(text);
  const trouble: YAMLError | undefined = document.errors[0] ?? document.warnings[0];
  const repeated = offsetOfRepeatedKey(document);
  if (trouble && !(repeated !== undefined && repeated < trouble.pos[0]))
    return { problem: { ...position(lines, trouble.pos[0]), ...inWords(trouble) } };
  if (repeated !== undefined)
    return {
      problem: { ...position(lines, repeated), says: 'a key stands here twice', mend: 'Keep one of the two.' },
    };

  const endless = offsetOfEndlessAlias(document);
  if (endless !== undefined)
    return {
      problem: {
        ...position(lines, endless),
        says: 'an alias stands inside the value that it repeats',
        mend: 'Write the value out, or name another anchor.',
      },
    };

  const data = document.toJS({ maxAliasCount: 100 }) as Json;

  if (isDeeperThan(data, deepestLevel, partsOf)) return tooDeep;
  return { value: sourceOf(text, data) };
}

const partsOf = (value: Json): readonly Json[] => {
  if (typeof value === 'object' && value !== null) return Object.values(value);
  return [];
};

/** Where the first alias stands that repeats a value around it: its content has no end. */
function offsetOfEndlessAlias(document: Document.Parsed): number | undefined {
  let first: number | undefined;
  visit(document, {
    Alias: (_, alias, around) => {
      const hasAnchor = around.some((node) => isCollection(node) && node.anchor === alias.source);
      const repeated = hasAnchor ? alias.resolve(document) : undefined;
      if (!repeated || !around.includes(repeated)) return undefined;
      first = alias.range?.[0] ?? 0;
      return visit.BREAK;
    },
  });

  return first;
}

/** What a text says, with places in it that are worked out when they are requested. */
function sourceOf(text: string, data: Json): Source {
  // The syntax tree is many times as large as the text, and most texts are never asked for a place in them: it is let
  // go, and made again for those that are.
  let again: ReturnType<typeof parse> | undefined;
  const span = (path: Path, wantKey: boolean): Span => {
    again ??= parse(text);
    const [from, to] = rangeOf(again.document, path, wantKey);
    return { start: position(again.lines, from), end: position(again.lines, to) };
  };

  return {
    data,
    locate: (path) => span(path, false).start,
    span: (path) => span(path, false),
    locateKey: (path) => span(path, true).start,
  };
}

/** The text as a syntax tree whose nodes know where they stand. */
export function parse(text: string): { readonly document: Document.Parsed; readonly lines: LineCounter } {
  const lines = new LineCounter();
  const document = parseDocument(text, {
    lineCounter: lines,
    prettyErrors: false,
    stringKeys: true,
    // Looked for by ourselves: the package compares each key with each other one of its map.
    uniqueKeys: false,
    logLevel: 'silent',
  });

  return { document, lines };
}

/** Where the first key stands that its map has already. */
function offsetOfRepeatedKey(document: Document.Parsed): number | undefined {
  let first: number | undefined;
  visit(document, {
    Map: (_, map) => {
      const visited = new Set<unknown>();
      for (const { key } of map.items) {
        if (!isScalar(key)) continue;
        const offset = key.range?.[0] ?? 0;
        if (visited.has(key.value) && (first === undefined || offset < first)) first = offset;
        visited.add(key.value);
      }
    },
  });

  return first;
}

function position(lines: LineCounter, offset: number): Position {
  const { line, col } = lines.linePos(offset);
  return { line: Math.max(1, line), column: Math.max(1, col) };
}

/** Where the value at a path, or the nearest thing around it that does exist, starts and ends in a text, in characters. */
function rangeOf(document: Document.Parsed, path: Path, wantKey: boolean): readonly [start: number, end: number] {
  let node: Node | null = document.contents;
  let range = rangeIn(node) ?? ([0, 0] as const);
  for (const part of path) {
    if (isMap(node)) {
      const pair = pairsOf(node).get(String(part));
      if (!pair) return range;
      const value = pair.value as Node | null;
      range = (wantKey ? undefined : rangeIn(value)) ?? rangeIn(pair.key as Node) ?? range;
      node = value;
    } else if (isSeq(node)) {
      const item = node.items[Number(part)] as Node | undefined;
      if (!item) return range;
      range = rangeIn(item) ?? range;
      node = item;
    } else return range;
  }

  return range;
}

const rangeIn = (node: Node | null): readonly [number, number] | undefined => {
  if (!node?.range) return undefined;
  return [node.range[0], node.range[1]];
};

/** The pairs of a map by key. Kept with the map, since many places may be requested in one. */
const pairs = new WeakMap<YAMLMap, ReadonlyMap<string, Pair>>();

function pairsOf(map: YAMLMap): ReadonlyMap<string, Pair> {
  const existing = pairs.get(map);
  if (existing) return existing;

  const byKey = new Map<string, Pair>();
  for (const pair of map.items)
    if (isScalar(pair.key) && !byKey.has(String(pair.key.value))) byKey.set(String(pair.key.value), pair);
  pairs.set(map, byKey);
  return byKey;
}

/** The parser's message in the words of someone who writes content. */
function inWords(trouble: YAMLError): { says: string; mend: string } {
  const problems: Partial<Record<YAMLError['code'], { says: string; mend: string }>> = {
    TAG_RESOLVE_FAILED: {
      says: 'a tag (a word that starts with `!`) stands here',
      mend: 'Write the plain value, in quotes if it starts with `!`.',
    },
    TAB_AS_INDENT: { says: 'a tab is used to indent', mend: 'Indent with spaces.' },
    MULTIPLE_DOCS: {
      says: 'a second document starts here',
      mend: 'Keep one document in a file: remove the line `---`.',
    },
    NON_STRING_KEY: { says: 'a key is not a text', mend: 'Write the key as a single word, or in quotes.' },
    BAD_INDENT: { says: 'the indentation does not fit the lines above', mend: 'Align it with the lines above.' },
    MISSING_CHAR: {
      says: firstSentence(trouble.message),
      mend: 'Close the quotes or brackets, and put a space after each colon.',
    },
    BLOCK_AS_IMPLICIT_KEY: {
      says: 'a colon stands within a plain text',
      mend: 'Put the text in quotes: "like: this".',
    },
  };
  if (/must (?:be sufficiently indented and )?end with a/u.test(trouble.message))
    return { says: 'a bracket is not closed', mend: 'Close it, or remove it.' };
  return (
    problems[trouble.code] ?? {
      says: firstSentence(trouble.message),
      mend: 'Correct the YAML here; quotes around a text often help.',
    }
  );
}

const firstSentence = (message: string): string => {
  const sentence = message.split('\n')[0] ?? message;
  return sentence.charAt(0).toLowerCase() + sentence.slice(1);
};
