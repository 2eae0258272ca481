import type { Json } from '../json.ts';
import type { Carried } from './define.ts';

const asText = (value: Json): Carried => ({ value: String(value) });

/** What becomes text as it stands: every kind that stores a text, a number or a truth value. */
export const carryText = {
  text: asText,
  longText: asText,
  markdown: asText,
  integer: asText,
  decimal: asText,
  boolean: asText,
  date: asText,
  choice: asText,
  slug: asText,
  term: asText,
};

/** Small letters, digits and single hyphens: the form of identifiers and slugs. Accents are dropped. */
export const slugify = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/gu, '-')
    .replace(/^-+|-+$/gu, '');

/** The member of a closed list that a text means: by its name, or by its label in any case. */
export function memberMeant(
  text: string,
  members: Iterable<readonly [name: string, label: string]>,
): string | undefined {
  const slug = slugify(text);
  for (const [name, label] of members) if (name === text || name === slug || slugify(label) === slug) return name;
  return undefined;
}
