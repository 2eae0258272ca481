import { z } from 'zod';
import { renameInExpression } from '../cel/names.ts';
import { identifierPattern, isId } from '../definition/address.ts';
import { isObject, type Json } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { range } from '../plain/words.ts';
import { allowed, type Compatibility, condition, lowerBound, upperBound } from './compatibility.ts';
import { defineKind } from './define.ts';
import type { EntryLink } from './kindParts.ts';
import { identifierShape, type Shape } from './shape.ts';

type Inverse = string | { readonly name: string; readonly min?: number | undefined; readonly max?: number | undefined };

/** Statements about the other side, whether by its name alone or with bounds. */
const sidesOf = (inverse: Inverse | undefined): Partial<Exclude<Inverse, string>> => {
  if (typeof inverse === 'string') return { name: inverse };
  return inverse ?? {};
};

/** More types let more pass; but where one becomes several, an identifier alone no longer says which is intended. */
const targets: Compatibility = {
  direction: (before, after) => {
    const direction = allowed(String).direction(before, after);
    const [oldCount, newCount] = [before, after].map((value) => (Array.isArray(value) ? value.length : 0));
    if (direction === 'wider' && oldCount === 1 && newCount !== 1) return 'different';
    return direction;
  },
  // Anyone who asks for the fields of a type that goes asks in vain.
  readers: (direction) => (direction === 'presentation' ? undefined : 'break'),
};

/** Another name hurts readers alone; tighter bounds hurt entries. */
const inverseMeaning: Compatibility = {
  direction: (before, after) => {
    const [oldOptions, newOptions] = [before, after].map((value) => (isObject(value) ? value : {}));
    const directions = [
      lowerBound().direction(oldOptions?.min ?? 0, newOptions?.min ?? 0),
      upperBound().direction(oldOptions?.max ?? Number.MAX_SAFE_INTEGER, newOptions?.max ?? Number.MAX_SAFE_INTEGER),
    ].filter((_, index) => oldOptions?.[index === 0 ? 'min' : 'max'] !== newOptions?.[index === 0 ? 'min' : 'max']);
    if (directions.length === 0) return 'presentation';
    if (directions.every((direction) => direction === directions[0])) return directions[0] ?? 'presentation';
    return 'different';
  },
  readers: () => 'break',
};

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
    inverse: z
      .union([
        z.string().min(1),
        z.strictObject({
          name: z.string().min(1),
          min: z.int().min(0).optional(),
          max: z.int().min(1).optional(),
        }),
      ])
      .optional()
      .describe(
        'The name of the other side, as seen from the target; with how many entries must or may point at one target as { name: lights, max: 1 }. One to one is `max: 1` here and no `many`.',
      ),
    eligible: z
      .string()
      .min(1)
      .optional()
      .describe(
        'A CEL condition over `target` that an entry has to meet to be pointed at: `target.status == "published"`, `target.isPublic`, or any of its fields.',
      ),
  },
  example: {
    options: { to: 'keeper', inverse: { name: 'lights', max: 5 }, eligible: 'target.status == "published"' },
    value: 'ada-rook',
  },
  mistakes: function* ({ to, inverse }, context) {
    const { min, max } = sidesOf(inverse);
    if (min !== undefined && max !== undefined && min > max)
      yield {
        option: 'inverse',
        says: `\`min\` (${min}) is more than \`max\` (${max}), so no target could pass`,
        mend: 'Swap them or change one.',
      };

    for (const type of to)
      if (!context.types.includes(type))
        yield {
          option: 'to',
          says: `there is no type \`${type}\``,
          mend: didYouMean(type, context.types) ?? `Define it in model/types/${type}.yaml.`,
        };

    if (new Set(to).size < to.length) yield { option: 'to', says: 'a type stands twice', mend: 'Name each type once.' };
  },
  check: ({ to }, { acceptedAs }) => {
    const accepted = new Set(to.flatMap(acceptedAs));
    return (value, report) => {
      const link = linkOf(value, to);
      if (!link) report('malformed-reference', { types: to });
      else if (!accepted.has(link.type)) report('wrong-target', { type: link.type, types: to }, { limit: [...to] });
    };
  },
  changed: {
    to: targets,
    inverse: inverseMeaning,
    eligible: condition,
  },
  // An identifier alone does not say which of several types is intended.
  rewritten: (value, before, after) => {
    const link =
      after.to.length > 1 && typeof value === 'string' && !value.includes('/') ? linkOf(value, before.to) : undefined;
    if (link && after.to.includes(link.type)) return `${link.type}/${link.id}`;
    return value;
  },
  from: {
    text: (value, { to }) => named(value, to),
    slug: (value, { to }) => named(value, to),
  },
  references: {
    isWhole: true,
    to: ({ to, inverse, eligible }) => {
      const { name, min, max } = sidesOf(inverse);
      return { types: to, inverse: name, inverseMin: min, inverseMax: max, eligible };
    },
    of: (value, { to }) => {
      const link = linkOf(value, to);
      if (!link) return [];
      return [{ to: link, inside: [] }];
    },
    relocated: (value, elsewhere, { to }) => {
      const link = linkOf(value, to);
      const moved = link && elsewhere(link);
      if (moved && moved !== link) return `${moved.type}/${moved.id}`;
      return value;
    },
  },

  renamed: {
    options: (options, rename) => {
      if (rename.what === 'type')
        return { ...options, to: options.to.map((type) => (type === rename.from ? rename.to : type)) };
      const { to, eligible } = options;
      if (rename.what === 'field' && eligible !== undefined && to.includes(rename.type))
        return { ...options, eligible: renameInExpression(eligible, rename.from, rename.to, 'target') };
      return options;
    },
    value: (value, _options, rename) =>
      rename.what === 'type' && typeof value === 'string' && value.startsWith(`${rename.from}/`)
        ? `${rename.to}/${value.slice(rename.from.length + 1)}`
        : value,
  },

  stores: ({ to }, { acceptedAs }) => {
    const types = to.flatMap(acceptedAs).join('|');
    const address: Shape = { is: 'text', patterns: [`^(?:${types})/${identifierPattern.slice(1)}`] };
    if (to.length !== 1) return address;
    return { is: 'either', shapes: [identifierShape, address] };
  },
  cel: 'string',
  glance: 0.6,
  gist: ({ to, inverse, eligible }) => {
    const { name, min, max } = sidesOf(inverse);
    const bounds = range(min, max);
    const other = name === undefined ? '' : ` (⇄ ${name}${bounds === '' ? '' : ` ${bounds}`})`;
    return `→ ${to.join(' | ')}${other}${eligible === undefined ? '' : ', not every one'}`;
  },
});

function linkOf(value: Json, to: readonly string[]): EntryLink | undefined {
  if (typeof value !== 'string') return undefined;
  const slash = value.indexOf('/');
  const [only] = to;
  if (slash < 0) return to.length === 1 && only !== undefined && isId(value) ? { type: only, id: value } : undefined;
  const id = value.slice(slash + 1);
  if (!isId(id)) return undefined;
  return { type: value.slice(0, slash), id };
}

function named(value: Json, to: readonly string[]) {
  if (linkOf(value, to)) return { value };
  return { problem: 'it is no identifier of an entry' };
}
