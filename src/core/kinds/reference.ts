import { z } from 'zod';
import type { Json } from '../json.ts';
import { isId } from '../model/address.ts';
import { didYouMean } from '../nearest.ts';
import { list } from '../words.ts';
import { defineKind, type EntryLink } from './define.ts';
import { allowed } from './meaning.ts';

/**
 * A pointer to another entry. Where several types may be the target, a value says which it is: `keeper/ada-rook`; where
 * only one may, the identifier alone will do: `ada-rook`. Stored on this side only; `inverse` names the other side.
 */
export const reference = defineKind({
  name: 'reference',
  about: 'A pointer to another entry, of one type or of several.',
  options: {
    to: z
      .union([z.string().transform((type) => [type]), z.array(z.string()).min(1)])
      .describe(
        'The type it may point at, or a list of several. With several, a value says which it is: keeper/ada-rook.',
      ),
    inverse: z.string().min(1).optional().describe('The name of the other side, as seen from the target.'),
  },
  example: { options: { to: 'keeper', inverse: 'lights' }, value: 'ada-rook' },
  mistakes: function* ({ to }, around) {
    for (const type of to)
      if (!around.types.includes(type))
        yield {
          option: 'to',
          says: `there is no type \`${type}\``,
          mend: didYouMean(type, around.types).trim() || `Define it in model/types/${type}.yaml.`,
        };
    if (new Set(to).size < to.length) yield { option: 'to', says: 'a type stands twice', mend: 'Name each type once.' };
  },
  check: ({ to }, { standsFor }) => {
    const accepted = new Set(to.flatMap(standsFor));
    return (value, report) => {
      const link = linkOf(value, to);
      const example = to.length === 1 ? 'skerry-point' : `${to[0]}/skerry-point`;
      if (!link)
        report('malformed-reference', {
          says: 'names no entry',
          mend: `Write the identifier of ${aTarget(to)}, for example ${example}.`,
        });
      else if (!accepted.has(link.type))
        report('wrong-target', {
          says: `points at ${/^[aeiou]/u.test(link.type) ? 'an' : 'a'} ${link.type}, only ${list(to, 'or')} may stand here`,
          limit: [...to],
          mend: `Point at ${aTarget(to)}.`,
        });
    };
  },
  changed: {
    to: allowed(String, (direction) => (direction === 'narrower' ? 'unaffected' : 'break')),
    inverse: { direction: () => 'presentation', readers: () => 'break' },
  },
  from: {
    text: (value, { to }) => named(value, to),
    slug: (value, { to }) => named(value, to),
  },
  pointsAt: ({ to, inverse }) => ({ types: to, inverse }),
  link: (value, { to }) => linkOf(value, to),
  renameInOptions: (options, rename) =>
    rename.what === 'type'
      ? { ...options, to: options.to.map((type) => (type === rename.from ? rename.to : type)) }
      : options,
  renameInValue: (value, _options, rename) =>
    rename.what === 'type' && typeof value === 'string' && value.startsWith(`${rename.from}/`)
      ? `${rename.to}/${value.slice(rename.from.length + 1)}`
      : value,
  cel: 'string',
  gist: ({ to, inverse }) => `→ ${to.join(' | ')}${inverse === undefined ? '' : ` (⇄ ${inverse})`}`,
});

const aTarget = (to: readonly string[]): string =>
  to.length === 1 ? `an entry of ${to[0]}` : `an entry of ${list(to, 'or')}`;

function linkOf(value: Json, to: readonly string[]): EntryLink | undefined {
  if (typeof value !== 'string') return undefined;
  const slash = value.indexOf('/');
  const [only] = to;
  if (slash < 0) return to.length === 1 && only !== undefined && isId(value) ? { type: only, id: value } : undefined;
  const id = value.slice(slash + 1);
  return isId(id) ? { type: value.slice(0, slash), id } : undefined;
}

function named(value: Json, to: readonly string[]) {
  return linkOf(value, to) ? { value } : { lost: 'it is no identifier of an entry' };
}
