import type { Model } from '../model/link.ts';
import type { Taxonomy, Term } from '../taxonomy/linkTaxonomy.ts';
import type { Facts } from './facts.ts';

/** How many entries use each term of every taxonomy, and which terms are used that nobody wrote down. */
export class TermUsage {
  readonly #model: Model;
  readonly #alone = new Map<string, number>();
  readonly #withBelow = new Map<string, number>();
  readonly #unlisted = new Map<string, Set<string>>();

  constructor(model: Model) {
    this.#model = model;
  }

  /** Takes what pass one of checking found out about an entry. An entry counts once for a term, however often it has it. */
  add({ terms }: Facts): void {
    const alone = new Set(terms);
    const allTerms = new Set<string>();

    for (const key of alone) {
      const colon = key.indexOf(':');
      const [name, term] = [key.slice(0, colon), key.slice(colon + 1)];
      const taxonomy = this.#model.taxonomies.get(name);
      const places = taxonomy?.terms.get(term)?.places;
      if (!places) {
        if (taxonomy?.isOpen) this.#unlisted.set(name, (this.#unlisted.get(name) ?? new Set()).add(term));
        allTerms.add(key);
      }

      for (const above of (places ?? []).flat()) allTerms.add(`${name}:${above}`);
    }

    count(this.#alone, alone);
    count(this.#withBelow, allTerms);
  }

  /** How many entries use a term itself. */
  alone(taxonomy: string, term: string): number {
    return this.#alone.get(`${taxonomy}:${term}`) ?? 0;
  }

  /** How many entries use a term or one below it. */
  withBelow(taxonomy: string, term: string): number {
    return this.#withBelow.get(`${taxonomy}:${term}`) ?? 0;
  }

  /** Terms of an open taxonomy that entries use and nobody wrote down, as terms without anything below them. */
  unlisted(taxonomy: Taxonomy): readonly Term[] {
    return [...(this.#unlisted.get(taxonomy.name) ?? [])].sort().map((name) => ({
      name,
      label: name,
      synonyms: [],
      labels: [],
      path: [name],
      places: [[name]],
      below: [],
      isRetired: false,
      isContent: true,
    }));
  }
}

function count(counts: Map<string, number>, keys: ReadonlySet<string>): void {
  for (const key of keys) counts.set(key, (counts.get(key) ?? 0) + 1);
}
