import { withPlainLetters } from '../plain/slugify.ts';
import { capital } from '../plain/words.ts';

/**
 * Addresses: one grammar for everything a person can point at.
 *
 *     lighthouse                            a type
 *     lighthouse.focalHeight                a field
 *     lighthouse.hours.opens                a field inside an object
 *     lighthouse.character:fixed            one allowed value of a choice, which may stand inside an object
 *     region:                               a taxonomy
 *     region:north/skerries                 a term, with or without the terms above it
 *     lighthouse/skerry-point               an entry
 *     lighthouse/skerry-point#/keepers/0    a value inside an entry (JSON Pointer, RFC 6901)
 *
 * Identifiers of entries, terms and choices stand as they are, `clock/No. 7 (oak)`; one that starts with a double quote,
 * or that ends with `#`, is in double quotes as in JSON: `clock/"7#"`.
 */
const NAME = '[a-z][A-Za-z0-9]{0,63}';
const FIELD = '[A-Za-z_$][A-Za-z0-9_$-]{0,63}';
const ID = String.raw`"(?:[^"\\]|\\.)*"|[^"/][^/]*?`;

const nameShape = new RegExp(`^${NAME}$`, 'u');
const fieldShape = new RegExp(`^${FIELD}$`, 'u');

/** Names of types and taxonomies: a small letter, then letters and digits, `likeThis`. */
export const isName = (text: string): boolean => nameShape.test(text);
/** The rule for names of types, kits and kinds, in words. */
export const nameRule = 'a name starts with a small letter and goes on with letters and digits, likeThis (64 at most)';

/** Names of fields, as the content has them: letters, digits, `_`, `$` and `-`, and no digit or hyphen first. */
export const isFieldWord = (text: string): boolean => fieldShape.test(text) && text !== '__proto__';
/** The rule for names of fields, in words. */
export const fieldRule =
  'the name of a field is made of letters, digits, `_`, `$` and `-`, and does not start with a digit or a hyphen (64 at most)';

/** Slugs: small letters and digits with single hyphens between, `like-this`. */
export function isSlug(text: string): boolean {
  if (text.length > slugLimit) return false;

  let before = hyphen;
  for (let index = 0; index < text.length; index += 1) {
    const code = text.charCodeAt(index);
    const isLetterOrDigit = (code >= 0x61 && code <= 0x7a) || (code >= 0x30 && code <= 0x39);
    if (!isLetterOrDigit && (code !== hyphen || before === hyphen)) return false;
    before = code;
  }

  return before !== hyphen;
}
const hyphen = 0x2d;
/** The same as a regular expression (ECMA-262), and how long they may be. */
export const slugPattern = '^[a-z0-9]+(?:-[a-z0-9]+)*$';
/** The maximum length of a slug, in characters. */
export const slugLimit = 128;

/**
 * Identifiers of entries, terms and choices, as the content has them: any text of one line without a slash, without
 * blanks around it and without invisible characters.
 */
export function isId(text: string): boolean {
  // A loop, not the regular expression: it runs for every entry and reference, and most are plain.
  if (text.length > identifierLimit || text.length === 0) return isLongId(text);

  for (let index = 0; index < text.length; index += 1) {
    const code = text.charCodeAt(index);
    if (code <= 0x20 || code === slash || code >= 0x7f) return isLongId(text);
  }

  return true;
}
const slash = 0x2f;
const identifierLimit = 200;
/**
 * Characters that no identifier holds: a slash, control characters, line breaks, halves of characters, and characters
 * that nobody can see or that reorder the surroundings of them (UAX #9): such a name misleads the eye.
 */
const refused =
  '/\\u0000-\\u001f\\u007f-\\u009f\\u200b\\u2028-\\u202e\\u2060\\u2066-\\u2069\\ufeff\\ufff9-\\ufffb\\ud800-\\udfff';
/** An identifier as a regular expression (ECMA-262, with flag `u`). */
export const identifierPattern = `^(?!\\s)[^${refused}]{1,${identifierLimit}}(?<!\\s)$`;
const idShape = new RegExp(identifierPattern, 'u');
const isLongId = (text: string): boolean => idShape.test(text);
/** The rule for identifiers, in words. */
export const idRule = `an identifier is one line of visible text without a slash, and without blanks around it (${identifierLimit} characters at most)`;

/** An identifier as it is in an address. */
export const quotedId = (id: string): string => {
  if (!/^"|#$/u.test(id)) return id;
  return JSON.stringify(id);
};

/** Whether a text can be the name of something, and the rule that says why not. */
export function unfitName(
  category: 'type' | 'field' | 'taxonomy' | 'term' | 'choice',
  name: string,
): { readonly rule: string } | undefined {
  if (category === 'term' || category === 'choice') return isId(name) ? undefined : { rule: idRule };
  if (category === 'field') return isFieldWord(name) ? undefined : { rule: fieldRule };
  if (isName(name)) return undefined;
  return { rule: nameRule };
}

/** The address of a part of a model or of an entry, taken apart. */
export type Address =
  | { readonly what: 'type'; readonly type: string }
  | { readonly what: 'field'; readonly type: string; readonly field: string }
  | { readonly what: 'inner'; readonly type: string; readonly field: string; readonly inside: readonly string[] }
  | {
      readonly what: 'choice';
      readonly type: string;
      readonly field: string;
      readonly inside?: readonly string[];
      readonly choice: string;
    }
  | { readonly what: 'taxonomy'; readonly taxonomy: string }
  | { readonly what: 'term'; readonly taxonomy: string; readonly term: string; readonly above: readonly string[] }
  | { readonly what: 'entry'; readonly type: string; readonly id: string; readonly pointer?: string };

const shapes = {
  type: new RegExp(`^(?<type>${NAME})$`, 'u'),
  field: new RegExp(`^(?<type>${NAME})\\.(?<field>${FIELD})$`, 'u'),
  inner: new RegExp(`^(?<type>${NAME})\\.(?<field>${FIELD})\\.(?<inside>${FIELD}(?:\\.${FIELD})*)$`, 'u'),
  choice: new RegExp(
    `^(?<type>${NAME})\\.(?<field>${FIELD})(?:\\.(?<inside>${FIELD}(?:\\.${FIELD})*))?:(?<choice>${ID})$`,
    'u',
  ),
  taxonomy: new RegExp(`^(?<taxonomy>${NAME}):$`, 'u'),
  term: new RegExp(`^(?<taxonomy>${NAME}):(?<terms>(?:${ID})(?:/(?:${ID}))*)$`, 'u'),
  entry: new RegExp(`^(?<type>${NAME})/(?<id>${ID})(?:#(?<pointer>(?:/[^/]*)*))?$`, 'u'),
};

/** Reads an address; `undefined` where the text is none. A name alone is read as a type. */
export function parseAddress(text: string): Address | undefined {
  for (const category of ['type', 'field', 'inner', 'choice', 'taxonomy', 'term', 'entry'] as const) {
    const parts = shapes[category].exec(text)?.groups;
    const address = parts && build(category, parts);
    if (address) return address;
  }

  return undefined;
}

function build(
  category: keyof typeof shapes,
  parts: Readonly<Record<string, string | undefined>>,
): Address | undefined {
  const { inside = '' } = parts;
  const { type = '', field = '', choice = '', taxonomy = '', terms = '', id = '', pointer } = parts;
  switch (category) {
    case 'type':
      return { what: category, type };
    case 'field':
      return { what: category, type, field };
    case 'inner':
      return { what: category, type, field, inside: inside.split('.') };
    case 'choice': {
      const named = unquotedId(choice);
      if (named === undefined) return undefined;
      if (inside === '') return { what: category, type, field, choice: named };
      return { what: category, type, field, inside: inside.split('.'), choice: named };
    }
    case 'taxonomy':
      return { what: category, taxonomy };
    case 'term': {
      const ids = [...terms.matchAll(new RegExp(`(?:^|/)(${ID})(?=/|$)`, 'gu'))].map(([, id = '']) => unquotedId(id));
      if (!ids.every((id) => id !== undefined)) return undefined;
      return { what: category, taxonomy, term: ids.at(-1) ?? '', above: ids.slice(0, -1) };
    }
    case 'entry': {
      const named = unquotedId(id);
      if (named === undefined) return undefined;
      if (pointer === undefined) return { what: category, type, id: named };
      return { what: category, type, id: named, pointer };
    }
  }
}

/** An identifier as it is in an address without its quotes; `undefined` where it is none. */
function unquotedId(text: string): string | undefined {
  if (!text.startsWith('"')) return isId(text) ? text : undefined;
  try {
    const parsed: unknown = JSON.parse(text);
    if (typeof parsed === 'string' && isId(parsed)) return parsed;
    return undefined;
  } catch {
    return undefined;
  }
}

/** The name of a field by its address: its path where it is inside an object, `hours.opens`. */
export const nameOfField = ({
  field,
  inside = [],
}: {
  readonly field: string;
  readonly inside?: readonly string[];
}): string => [field, ...inside].join('.');

/** One line on how addresses are written, for messages about a text that is none. */
export const addressForms =
  'Write a type (lighthouse), a field (lighthouse.name), a taxonomy (region:), a term (region:north) or an entry (lighthouse/skerry-point).';

/** A name of the model from words: `Light house` as `lightHouse`, `ISO code` as `isoCode`. A name stays as it is. */
export function nameFrom(words: string): string {
  const plain = withPlainLetters(words);
  // Where all are capitals, none says where a word begins.
  const parts = (/[a-z]/u.test(plain) ? plain : plain.toLowerCase()).split(/[^A-Za-z0-9]+/u).filter(Boolean);
  return parts.map((part, index) => (index === 0 ? withSmallStart(part) : capital(part))).join('');
}

/** The first word small, letter by letter where it is short for several: `HTMLPage` as `htmlPage`. */
const withSmallStart = (part: string): string =>
  part.replace(/^(?:[A-Z]+(?=[A-Z][a-z])|[A-Z]+)/u, (first) => first.toLowerCase());
