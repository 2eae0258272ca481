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
 */
const NAME = '[a-z][A-Za-z0-9]{0,63}';
const ID = '[a-z0-9]+(?:-[a-z0-9]+)*';

const nameShape = new RegExp(`^${NAME}$`, 'u');

/** Names of types, fields and taxonomies: a letter, then letters and digits, `likeThis`. */
export const isName = (text: string): boolean => nameShape.test(text);
export const nameRule = 'a name starts with a small letter and goes on with letters and digits, likeThis (64 at most)';

/** Identifiers of entries, terms and choices: small letters and digits with single hyphens between, `like-this`. */
export function isId(text: string): boolean {
  if (text.length > identifierLimit) return false;
  // A loop, not the regular expression: every entry and every reference is asked, and this takes a third of the time.
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
export const identifierPattern = `^${ID}$`;
export const identifierLimit = 128;
export const idRule = `an identifier is made of small letters and digits with single hyphens between, like-this (${identifierLimit} at most)`;

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
  field: new RegExp(`^(?<type>${NAME})\\.(?<field>${NAME})$`, 'u'),
  inner: new RegExp(`^(?<type>${NAME})\\.(?<field>${NAME})\\.(?<inside>${NAME}(?:\\.${NAME})*)$`, 'u'),
  choice: new RegExp(
    `^(?<type>${NAME})\\.(?<field>${NAME})(?:\\.(?<inside>${NAME}(?:\\.${NAME})*))?:(?<choice>${ID})$`,
    'u',
  ),
  taxonomy: new RegExp(`^(?<taxonomy>${NAME}):$`, 'u'),
  term: new RegExp(`^(?<taxonomy>${NAME}):(?<terms>${ID}(?:/${ID})*)$`, 'u'),
  entry: new RegExp(`^(?<type>${NAME})/(?<id>${ID})(?:#(?<pointer>(?:/[^/]*)*))?$`, 'u'),
};

/** Reads an address; `undefined` where the text is none. A name alone is read as a type. */
export function parseAddress(text: string): Address | undefined {
  for (const what of ['type', 'field', 'inner', 'choice', 'taxonomy', 'term', 'entry'] as const) {
    const parts = shapes[what].exec(text)?.groups;
    if (parts) return build(what, parts);
  }
  return undefined;
}

function build(what: keyof typeof shapes, parts: Readonly<Record<string, string | undefined>>): Address {
  const { inside = '' } = parts;
  const { type = '', field = '', choice = '', taxonomy = '', terms = '', id = '', pointer } = parts;
  switch (what) {
    case 'type':
      return { what, type };
    case 'field':
      return { what, type, field };
    case 'inner':
      return { what, type, field, inside: inside.split('.') };
    case 'choice':
      return inside === '' ? { what, type, field, choice } : { what, type, field, inside: inside.split('.'), choice };
    case 'taxonomy':
      return { what, taxonomy };
    case 'term': {
      const ids = terms.split('/');
      return { what, taxonomy, term: ids.at(-1) ?? '', above: ids.slice(0, -1) };
    }
    case 'entry':
      return pointer === undefined ? { what, type, id } : { what, type, id, pointer };
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
