import type { Branch, TaxonomyDoc, TermDoc } from '../definition/taxonomy.ts';
import { compact } from '../plain/json.ts';
import type { WantedTerm } from './termList.ts';

/** More levels than these are more than a taxonomy may have. */
const deepest = 100;

/** Listed terms as a taxonomy; or the first one whose parent is not listed, or is itself. */
export function termTree(
  listed: readonly WantedTerm[],
): Pick<TaxonomyDoc, 'terms' | 'tree'> | { readonly astray: WantedTerm } {
  const terms = new Map<string, TermDoc>();
  const below = new Map<string | undefined, string[]>();
  for (const { term, label, about, synonyms, under } of listed) {
    if (terms.has(term)) continue;
    terms.set(term, compact({ label, about, synonyms: synonyms && [...synonyms] }) as TermDoc);
    const siblings = below.get(under);
    if (siblings) siblings.push(term);
    else below.set(under, [term]);
  }

  const placed = new Set<string>();

  const grow = (above: string | undefined, depth = 0): readonly Branch[] =>
    (depth > deepest ? [] : (below.get(above) ?? [])).map((term) => {
      placed.add(term);
      const inside = grow(term, depth + 1);
      if (inside.length > 0) return { term, terms: inside };
      return { term };
    });

  const tree = grow(undefined);
  const astray = listed.find(({ term }) => !placed.has(term));

  if (astray) return { astray };
  return { terms: Object.fromEntries(terms), tree };
}
