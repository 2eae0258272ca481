import { type Address, parseAddress } from '../definition/address.ts';
import type { Branch, TaxonomyDoc, TermDoc } from '../definition/taxonomy.ts';
import { wordsIn } from '../definition/wording.ts';
import { ownValue } from '../plain/json.ts';
import { humanize } from '../plain/words.ts';

/** A taxonomy to look terms up in. */
export interface Taxonomy {
  readonly name: string;
  readonly definition: TaxonomyDoc;
  readonly label: string;
  /** Its own terms, those kept with the content, and those borrowed from other taxonomies. */
  readonly terms: ReadonlyMap<string, Term>;
  readonly roots: readonly Term[];
  /** Whether authors may use terms that nobody has written down yet. */
  readonly isOpen: boolean;
}

/** A term with its places, linked for lookups. */
export interface Term {
  readonly name: string;
  readonly label: string;
  readonly synonyms: readonly string[];
  /** The labels that somebody wrote, in each language. */
  readonly labels: readonly string[];
  /** The identifiers from the top of the hierarchy down to the term itself, at its first place. */
  readonly path: readonly string[];
  /** The same for every place that it is in. */
  readonly places: readonly (readonly string[])[];
  /** The terms below it, in the order given by hand; those that stand here too, and elsewhere first, among them. */
  readonly below: readonly Term[];
  readonly isRetired: boolean;
  /** The term that replaces a retired one. */
  readonly use?: string | undefined;
  /** The taxonomy that it is borrowed from. */
  readonly borrowedFrom?: string | undefined;
  /** Whether it is kept with the content, where authors add terms. */
  readonly isContent: boolean;
}

/** Every word for a term. */
export const wordsFor = ({ name, label, labels, synonyms }: Term): readonly string[] => [
  ...synonyms,
  ...labels,
  label,
  name,
];

/** Terms that are kept with the content, in the form of a taxonomy's own. */
export type ContentTerms = Pick<TaxonomyDoc, 'terms' | 'tree'>;

/** Makes the document of a taxonomy into something to look up in; borrowed terms are added by {@link withBorrowed}. */
export function linkTaxonomyOf(
  name: string,
  definition: TaxonomyDoc,
  languages: readonly string[] = [],
  content: ContentTerms = { terms: {}, tree: [] },
): Taxonomy {
  const growing = new Growing(languages);
  const roots = [
    ...growing.grow(definition.tree, definition.terms, false),
    ...(definition.open ? growing.grow(content.tree, content.terms, true) : []),
  ];
  growing.placeOthers();

  return {
    name,
    definition,
    label: wordsIn(definition.label, languages) ?? humanize(name),
    terms: growing.terms,
    roots,
    isOpen: definition.open === true,
  };
}

interface GrowingTerm extends Term {
  readonly places: string[][];
  readonly below: Term[];
}

/** Grows terms from branches: first places first, then the other places that a term is in too. */
class Growing {
  readonly terms = new Map<string, GrowingTerm>();
  readonly #others: { readonly above: GrowingTerm | undefined; readonly index: number; readonly term: string }[] = [];
  readonly #languages: readonly string[];

  constructor(languages: readonly string[]) {
    this.#languages = languages;
  }

  grow(tree: readonly Branch[], docs: TaxonomyDoc['terms'], isContent: boolean, above?: GrowingTerm): Term[] {
    const grown: Term[] = [];
    for (const branch of tree) {
      if (branch.also) {
        this.#others.push({ above, index: grown.length, term: branch.term });
        continue;
      }
      if (this.terms.has(branch.term)) continue; // The model's own term goes before one of the content.

      const term = this.#make(
        branch.term,
        ownValue(docs, branch.term) ?? {},
        [...(above?.path ?? []), branch.term],
        isContent,
      );
      grown.push(term);
      term.below.push(...this.grow(branch.terms ?? [], docs, isContent, term));
    }

    return grown;
  }

  #make(name: string, doc: TermDoc, path: readonly string[], isContent: boolean): GrowingTerm {
    const term: GrowingTerm = {
      name,
      label: wordsIn(doc.label, this.#languages) ?? humanize(name),
      synonyms: synonymsOf(doc),
      labels: labelsOf(doc),
      path,
      places: [[...path]],
      below: [],
      isRetired: doc.retired !== undefined,
      use: typeof doc.retired === 'object' ? doc.retired.use : undefined,
      isContent,
    };
    this.terms.set(name, term);

    return term;
  }

  /** Lets terms are in their other places too. A place below the term itself is none: the walk would never end. */
  placeOthers(): void {
    for (const { above, index, term: name } of this.#others) {
      const term = this.terms.get(name);
      if (!term || !above || above.places.some((place) => place.includes(name))) continue;
      above.below.splice(index, 0, term);
      for (const place of above.places) term.places.push([...place, name]);
    }
  }
}

/** The labels of a term in every language. */
const labelsOf = ({ label = {} }: TermDoc): readonly string[] => {
  if (typeof label === 'string') return [label];
  return Object.values(label).filter((wording) => wording !== undefined);
};

/** The synonyms of a term in every language. */
const synonymsOf = ({ synonyms = [] }: TermDoc): readonly string[] => Object.values(synonyms).flat();

type Borrowed = Extract<Address, { what: 'taxonomy' | 'term' }>;

/** What a taxonomy borrows: whole taxonomies (`region:`) or terms with all below them (`region:north`). */
export const borrowsOf = ({ borrows = [] }: TaxonomyDoc): readonly Borrowed[] =>
  borrows
    .map((text) => parseAddress(text))
    .filter((address): address is Borrowed => address?.what === 'taxonomy' || address?.what === 'term');

/** Taxonomies with borrowed terms from each other: only what another one has to itself, so that nothing goes round. */
export function withBorrowed(ownTaxonomies: ReadonlyMap<string, Taxonomy>): ReadonlyMap<string, Taxonomy> {
  return new Map(
    [...ownTaxonomies].map(([name, taxonomy]) => {
      const borrowed = borrowsOf(taxonomy.definition).flatMap((address) => {
        const lender = ownTaxonomies.get(address.taxonomy);
        if (!lender || address.taxonomy === name) return [];
        const roots = address.what === 'taxonomy' ? lender.roots : [lender.terms.get(address.term)];
        return roots.flatMap((root) => (root ? [copy(root, address.taxonomy, [])] : []));
      });
      if (borrowed.length === 0) return [name, taxonomy];

      const termsByName = borrowed.flatMap(flat).map((term) => [term.name, term] as const);

      return [
        name,
        { ...taxonomy, roots: [...taxonomy.roots, ...borrowed], terms: new Map([...termsByName, ...taxonomy.terms]) },
      ];
    }),
  );
}

function copy(term: Term, from: string, above: readonly string[]): Term {
  const path = [...above, term.name];
  const below = term.below.map((term) => copy(term, from, path));
  return { ...term, path, places: [path], below, borrowedFrom: from, isContent: false };
}

/** A term with all terms below it. */
export const flat = (term: Term): readonly Term[] => [term, ...term.below.flatMap(flat)];
