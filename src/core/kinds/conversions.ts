import type { Json } from '../plain/json.ts';
import { slugify } from '../plain/slugify.ts';
import type { Converted } from './kindParts.ts';

const asText = (value: Json): Converted => ({ value: String(value) });

/** Kinds whose values become text unchanged: every kind that stores a text, a number or a truth value. */
export const textConversions = {
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

/**
 * Prepares the search for the members of a closed list that a text means: by their names, or by their labels in any case, in the
 * order of the list.
 */
export function membersMeant(
  members: Iterable<readonly [name: string, label: string]>,
): (text: string) => readonly string[] {
  const namesByWord = new Map<string, Set<string>>();
  for (const [name, label] of members)
    for (const word of [name, slugify(label)]) namesByWord.set(word, (namesByWord.get(word) ?? new Set()).add(name));
  namesByWord.delete('');
  return (text) => [...(namesByWord.get(slugify(text)) ?? [])];
}
