import { asJson } from '../definition/model.ts';
import { unknownLanguage } from '../definition/wording.ts';
import type { Model } from '../model/link.ts';
import type { Mistake } from '../model/mistakes.ts';
import { isList, type Path } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { quote, sentences } from '../plain/words.ts';
import { borrowsOf, flat, type Taxonomy } from '../taxonomy/linkTaxonomy.ts';
import { addressMistake } from '../taxonomy/termAddress.ts';

/** The mistakes of a taxonomy that show only beside the whole model. */
export function* verifyTaxonomy(name: string, { taxonomies, definition: { languages } }: Model): Iterable<Mistake> {
  const taxonomy = taxonomies.get(name);
  if (!taxonomy) return;

  const { definition } = taxonomy;
  const innerPath = ['taxonomies', name];
  const unfit = definition.address === undefined ? undefined : addressMistake(definition.address);

  if (unfit) yield { path: [...innerPath, 'address'], ...unfit };

  for (const [index, text] of (definition.borrows ?? []).entries()) {
    yield* verifyBorrow(taxonomy, text, { path: [...innerPath, 'borrows', index], taxonomies });
  }

  yield* verifyCollections(taxonomy, innerPath);

  yield* verifyTerms(taxonomy, innerPath, languages);
}

/** The mistakes of one entry of `borrows`: a taxonomy, or a term of one. */
function* verifyBorrow(
  { name, definition }: Taxonomy,
  text: string,
  { path, taxonomies }: { readonly path: Path; readonly taxonomies: Model['taxonomies'] },
): Iterable<Mistake> {
  const [address] = borrowsOf({ ...definition, borrows: [text] });
  const lender = address && address.taxonomy !== name ? taxonomies.get(address.taxonomy) : undefined;
  if (!lender)
    yield {
      path,
      says: `there is no other taxonomy to borrow ${quote(text)} from`,
      mend: sentences(
        'Write a taxonomy (region:) or a term (region:north).',
        didYouMean(
          text.replace(/:.*/u, ''),
          [...taxonomies.keys()].filter((taxonomy) => taxonomy !== name),
        ),
      ),
    };
  else if (address?.what === 'term' && !Object.hasOwn(lender.definition.terms, address.term))
    yield {
      path,
      says: `there is no term ${quote(address.term)} in ${lender.name}`,
      mend:
        didYouMean(address.term, Object.keys(lender.definition.terms)) ?? `See its terms: lumbrik show ${lender.name}:`,
    };
  else {
    const existing = (address?.what === 'term' ? [lender.terms.get(address.term)] : lender.roots)
      .flatMap((root) => (root ? flat(root) : []))
      .find((term) => Object.hasOwn(definition.terms, term.name));
    if (existing)
      yield {
        path,
        says: `\`${existing.name}\` would be borrowed, and ${name} has a term of that name itself`,
        mend: 'Rename one of the two, or borrow less.',
      };
  }
}

/** Verifies the statements about terms. */
function* verifyTerms(
  { name, definition, terms }: Taxonomy,
  innerPath: readonly string[],
  languages: readonly string[],
): Iterable<Mistake> {
  for (const [term, { retired, synonyms }] of Object.entries(definition.terms)) {
    const path = [...innerPath, 'terms', term];
    const unknown = isList(synonyms) ? undefined : unknownLanguage(asJson(synonyms ?? {}), languages);
    if (unknown) yield { path: [...path, 'synonyms'], ...unknown };
    if (typeof retired !== 'object') continue;

    const use = terms.get(retired.use);
    if (use && !use.isRetired && retired.use !== term) continue;
    yield {
      path: [...path, 'retired', 'use'],
      says: use ? `\`${retired.use}\` is retired itself` : `there is no term ${quote(retired.use)} in ${name}`,
      mend: use
        ? 'Name a term that is in use.'
        : (didYouMean(retired.use, terms.keys()) ?? 'Name a term that is in use.'),
    };
  }
}

/** That collections hold terms that exist. */
function* verifyCollections({ name, definition, terms }: Taxonomy, path: readonly string[]): Iterable<Mistake> {
  for (const [index, { members }] of (definition.collections ?? []).entries())
    for (const [position, member] of members.entries())
      if (!terms.has(member))
        yield {
          path: [...path, 'collections', index, 'members', position],
          says: `there is no term ${quote(member)} in ${name}`,
          mend: didYouMean(member, terms.keys()) ?? 'Name a term of the taxonomy.',
        };
}
