import { wordsIn } from '../../definition/wording.ts';
import type { Model } from '../../model/link.ts';
import { flat, type Taxonomy } from '../../taxonomy/linkTaxonomy.ts';
import { Draft } from './draft.ts';
import { type Names, snake } from './sqlText.ts';
import type { Cell, Row } from './table.ts';

/** The tables of taxonomies, two for each that is used: its terms, and their parents. */
export class TermTables {
  readonly #model: Model;
  readonly #languages: readonly string[];
  readonly #names: Names;
  readonly #met = new Set<string>();
  readonly #drafts = new Map<string, { readonly terms: Draft; readonly tree: Draft }>();

  constructor(model: Model, names: Names) {
    this.#model = model;
    this.#languages = model.definition.languages;
    this.#names = names;
  }

  /** Whether a term is one of an open taxonomy that nobody wrote down, and that is met for the first time. */
  isNew({ name, isOpen, terms }: Taxonomy, term: string): boolean {
    const key = JSON.stringify([name, term]);
    if (!isOpen || terms.has(term) || this.#met.has(key)) return false;
    this.#met.add(key);
    return true;
  }

  /** All of them, in the order of the model. */
  drafts(): readonly Draft[] {
    return this.#inOrder().flatMap(({ terms, tree }) => [terms, tree]);
  }

  /** The terms that the model has. */
  rows(): readonly Row[] {
    return [...this.#model.taxonomies.values()].flatMap((taxonomy) => this.#rows(taxonomy));
  }

  #inOrder = () => [...this.#model.taxonomies.keys()].flatMap((name) => this.#drafts.get(name) ?? []);

  /** The table of the terms of a taxonomy. */
  of({ name, label, definition }: Taxonomy): Draft {
    const existing = this.#drafts.get(name);
    if (existing) return existing.terms;

    const about = wordsIn(definition.about, this.#model.readingOrder);
    const draft = new Draft(
      this.#names.of(`${snake(name)}_term`),
      `Terms of ${label}${about === undefined ? '' : `: ${about}`}`,
    );
    draft.primaryKey.push(draft.column('term', { type: 'text', isNeeded: true, about: 'Its identifier.' }));
    for (const language of this.#languages)
      draft.column(`label_${snake(language)}`, { type: 'text', about: `What readers see (${language}).` });
    draft.column('is_retired', {
      type: 'boolean',
      isNeeded: true,
      default: 'false',
      about: 'That it is used no more.',
    });
    const use = draft.column('replaced_by', { type: 'text', about: 'The term that replaces a retired one.' });
    draft.refer([use], draft);
    const tree = new Draft(
      this.#names.of(`${draft.name}_broader`),
      `${draft.about.split(':')[0]}: what stands above each`,
    );

    for (const [column, about] of [
      ['term', 'A term.'],
      ['broader', 'A term right above it.'],
    ] as const) {
      tree.primaryKey.push(tree.column(column, { type: 'text', isNeeded: true, about }));
      tree.refer([column], draft);
    }

    this.#drafts.set(name, { terms: draft, tree });

    return draft;
  }

  #rows(taxonomy: Taxonomy): readonly Row[] {
    const drafts = this.#drafts.get(taxonomy.name);
    if (!drafts) return [];

    const terms = [...taxonomy.terms.values()];
    const rows = terms.map((term): Row => {
      const label = taxonomy.definition.terms[term.name]?.label;
      const labels = typeof label === 'object' ? label : { [this.#languages[0] ?? 'en']: term.label };
      const cells = new Map<string, Cell>([['term', term.name]]);
      for (const language of this.#languages)
        if (labels[language] !== undefined) cells.set(`label_${snake(language)}`, labels[language]);
      if (term.isRetired) cells.set('is_retired', true);
      if (term.use !== undefined && taxonomy.terms.has(term.use)) cells.set('replaced_by', term.use);
      return { table: drafts.terms.name, cells };
    });
    const pairs = new Map(
      taxonomy.roots
        .flatMap(flat)
        .flatMap((above) =>
          above.below.map((term) => [JSON.stringify([term.name, above.name]), [term.name, above.name]]),
        ),
    );
    const tree = [...pairs.values()].map(
      ([term = '', broader = '']): Row => ({
        table: drafts.tree.name,
        cells: new Map<string, Cell>([
          ['term', term],
          ['broader', broader],
        ]),
      }),
    );

    return [...rows, ...tree];
  }
}
