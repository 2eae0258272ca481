/**
 * A regular expression (ECMAScript, flag `u`) as a tree, as far as it matters for how long matching takes. The engine
 * has accepted the pattern before, so this reader does not check it again.
 */
export type Pattern =
  /** One character out of a set; `source` is the part of the pattern that says which. */
  | { readonly is: 'character'; readonly source: string }
  /** Matches without taking a character: an anchor, or what looks ahead or behind. */
  | { readonly is: 'nothing'; readonly inner?: Pattern }
  | { readonly is: 'sequence'; readonly parts: readonly Pattern[] }
  | { readonly is: 'choice'; readonly parts: readonly Pattern[] }
  | { readonly is: 'repeat'; readonly inner: Pattern; readonly least: number; readonly most: number };

/** The pattern refers back to what a group matched, and so is more than a regular expression. */
export class RefersBack extends Error {
  override readonly name = 'RefersBack';
}

/** @throws {RefersBack} */
export function parsePattern(source: string): Pattern {
  const reader = { source, at: 0 };
  return readChoice(reader);
}

interface Reader {
  readonly source: string;
  at: number;
}

function readChoice(reader: Reader): Pattern {
  const parts = [readSequence(reader)];
  while (reader.source[reader.at] === '|') {
    reader.at += 1;
    parts.push(readSequence(reader));
  }
  return parts.length === 1 && parts[0] ? parts[0] : { is: 'choice', parts };
}

function readSequence(reader: Reader): Pattern {
  const parts: Pattern[] = [];
  while (reader.at < reader.source.length && reader.source[reader.at] !== '|' && reader.source[reader.at] !== ')')
    parts.push(readRepeat(reader));
  return { is: 'sequence', parts };
}

function readRepeat(reader: Reader): Pattern {
  const inner = readAtom(reader);
  const [all, symbol, least, comma, most] =
    /^(?:([*+?])|\{(\d+)(,?)(\d*)\})\??/u.exec(reader.source.slice(reader.at)) ?? [];
  if (all === undefined) return inner;
  reader.at += all.length;
  if (symbol !== undefined)
    return { is: 'repeat', inner, least: symbol === '+' ? 1 : 0, most: symbol === '?' ? 1 : Number.POSITIVE_INFINITY };
  const few = Number(least);
  return {
    is: 'repeat',
    inner,
    least: few,
    most: comma === '' ? few : most === '' ? Number.POSITIVE_INFINITY : Number(most),
  };
}

function readAtom(reader: Reader): Pattern {
  const { source } = reader;
  const start = reader.at;
  switch (source[start]) {
    case '(':
      return readGroup(reader);
    case '[':
      reader.at = endOfClass(source, start);
      return { is: 'character', source: source.slice(start, reader.at) };
    case '^':
    case '$':
      reader.at += 1;
      return { is: 'nothing' };
    case '\\':
      return readEscape(reader);
    default: {
      const [letter = ''] = source.slice(start);
      reader.at += letter.length;
      return { is: 'character', source: letter };
    }
  }
}

function readGroup(reader: Reader): Pattern {
  const [opening = '('] = /^\((?:\?(?::|=|!|<=|<!|<[^>]+>))?/u.exec(reader.source.slice(reader.at)) ?? [];
  reader.at += opening.length;
  const inner = readChoice(reader);
  reader.at += 1;
  return /[=!]$/u.test(opening) ? { is: 'nothing', inner } : inner;
}

function readEscape(reader: Reader): Pattern {
  const rest = reader.source.slice(reader.at);
  if (/^\\(?:[1-9]|k<)/u.test(rest)) throw new RefersBack('the pattern refers back to a group');
  const [whole = ''] =
    /^\\(?:[pP]\{[^}]*\}|u\{[^}]*\}|u[\dA-Fa-f]{4}(?:\\u[\dA-Fa-f]{4})?|x[\dA-Fa-f]{2}|c[A-Za-z]|.)/su.exec(rest) ?? [];
  reader.at += whole.length;
  return /^\\[bB]$/u.test(whole) ? { is: 'nothing' } : { is: 'character', source: whole };
}

function endOfClass(source: string, start: number): number {
  let at = start + 1;
  while (at < source.length && source[at] !== ']') at += source[at] === '\\' ? 2 : 1;
  return at + 1;
}
