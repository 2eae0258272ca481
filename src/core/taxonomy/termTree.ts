import type { Branch, TaxonomyDoc, TermDoc } from '../definition/taxonomy.ts';
import { compact } from '../plain/json.ts';
import type { WantedTerm } from './termList.ts';

/** Listed terms as a taxonomy; or the first one that stands under what is not listed, or under itself. */
export function termTree(
  listed: readonly WantedTerm[],
): Pick<TaxonomyDoc, 'terms' | 'tree'> | { readonly astray: WantedTerm } {
  const terms = new Map<string, TermDoc>();
  const below = new Map<string | undefined, string[]>();
  for (const { term, label, about, synonyms, under } of listed) {
    if (terms.has(term)) continue;
    terms.set(term, compact({ label, about, synonyms: synonyms && [...synonyms] }) as TermDoc);
    below.set(under, [...(below.get(under) ?? []), term]);
  }
  const placed = new Set<string>();
  const grow = (above: string | undefined): readonly Branch[] =>
    (below.get(above) ?? []).map((term) => {
      placed.add(term);
      const inside = grow(term);
      return inside.length > 0 ? { term, terms: inside } : { term };
    });
  const tree = grow(undefined);
  const astray = listed.find(({ term }) => !placed.has(term));
  return astray ? { astray } : { terms: Object.fromEntries(terms), tree };
}
