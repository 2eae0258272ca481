import { kinds } from '../../kinds/index.ts';
import type { Shape } from '../../kinds/shape.ts';
import type { Field } from '../../model/link.ts';
import { capital } from '../../plain/words.ts';

/** A member of a type, or a value of an enumeration. */
export interface Member {
  readonly name: string;
  readonly typeText: string;
  readonly about: string;
}

/** What a field is in, as a name begins: of an inherited one the type that defines it. */
export const ownerOf = ({ address }: Field): string => capital(fitted(address.split('.')[0] ?? ''));

/* ── texts ───────────────────────────────────────────────────────────────────────────────────────────────────── */
/** The arguments of a field that gives pages. */
export const pagingArguments = 'first: Int = 20, after: String';

/** The identifier of an entry as a member. */
export const entryId: Member = { name: 'id', typeText: 'ID!', about: 'Its identifier among the entries of its type.' };

/** The members of a term. */
export const termMembers: readonly Member[] = [
  { name: 'term', typeText: 'ID!', about: '' },
  { name: 'label(language: Language)', typeText: 'String!', about: '' },
];

/** The types that kinds have of their own. */
const kindTypes = [...kinds.values()].flatMap(({ graphql }) => graphql ?? []);

/** Names that the schema has of itself, or that the language keeps. */
export const reserved = [
  'Query',
  'Mutation',
  'Subscription',
  'Entry',
  'Term',
  'Language',
  'Date',
  'DateTime',
  'Json',
  'String',
  'Int',
  'Float',
  'Boolean',
  'ID',
  ...kindTypes.map(({ name }) => name),
];

/** The definitions of scalars, by the standard of each. */
export const scalars = [
  '"""A day (RFC 3339): 2026-05-09."""\nscalar Date @specifiedBy(url: "https://www.rfc-editor.org/rfc/rfc3339")\n',
  '"""A moment (RFC 3339): 2026-05-09T10:00:00Z."""\nscalar DateTime @specifiedBy(url: "https://www.rfc-editor.org/rfc/rfc3339")\n',
  '"""Any JSON."""\nscalar Json\n',
].join('\n');

/** The definitions that every schema has. */
export const shared = [
  object('interface Entry', 'What every entry has.', [entryId]),
  object('interface Term', 'What every term of a taxonomy has.', termMembers),
  ...kindTypes.map(({ definition }) => definition),
].join('\n');

/** The definition of an object or interface. */
export function object(head: string, about: string, members: readonly Member[]): string {
  const lines = members.map(
    ({ name, typeText, about: description }) => `${described(description, '  ')}  ${name}: ${typeText}\n`,
  );
  return `${described(about, '')}${head} {\n${lines.join('')}}\n`;
}

export function enumeration(name: string, about: string, values: readonly Member[]): string {
  const lines = values.map(
    ({ name: valueName, about: description }) => `${described(description, '  ')}  ${valueName}\n`,
  );
  return `${described(about, '')}enum ${name} {\n${lines.join('')}}\n`;
}

function described(text: string, gap: string): string {
  if (text === '') return '';
  return `${gap}${JSON.stringify(text.replace(/\s+/gu, ' '))}\n`;
}

/** Members of which no two have one name. */
export function distinctly(members: readonly Member[]): readonly Member[] {
  const usedNames = new Set<string>();
  return members.map((member) => {
    const [ownName = '', ...args] = member.name.split(/(?=\()/u);
    let name = ownName;
    while (usedNames.has(name)) name += '_';
    usedNames.add(name);
    return { ...member, name: [name, ...args].join('') };
  });
}

/** A name as the language takes it: letters, digits and underlines, no digit first, no two underlines before it. */
export function fitted(name: string): string {
  const plain = name
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .replace(/[^A-Za-z0-9_]+/gu, '_')
    .replace(/^__+/u, '_');
  if (plain === '' || /^(?:true|false|null)$/u.test(plain)) return `_${plain}`;
  if (!/^\d/u.test(plain)) return plain;
  return `_${plain}`;
}

/** The largest number that the language takes for a whole one. */
const largestInt = 2 ** 31 - 1;

/** The scalar for values of a shape. */
export function scalarOf(shape: Shape): string {
  switch (shape.is) {
    case 'text':
      return { date: 'Date', 'date-time': 'DateTime', none: 'String' }[shape.format ?? 'none'];
    case 'integer': {
      const isSmall = (shape.min ?? -Infinity) >= -largestInt && (shape.max ?? Infinity) <= largestInt;
      if (isSmall) return 'Int';
      return 'Float';
    }
    case 'number':
      return 'Float';
    case 'boolean':
      return 'Boolean';
    case 'one of':
      return 'String';
    default:
      return 'Json';
  }
}
