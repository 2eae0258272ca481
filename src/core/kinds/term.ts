import { z } from 'zod';
import { isId } from '../definition/address.ts';
import { flag } from '../definition/flag.ts';
import { compact, isList, type Json } from '../plain/json.ts';
import { didYouMean, nearest } from '../plain/nearest.ts';
import { onceFor } from '../plain/once.ts';
import { slugify } from '../plain/slugify.ts';
import { list, quote } from '../plain/words.ts';
import { type Taxonomy, type Term, wordsFor } from '../taxonomy/linkTaxonomy.ts';
import { byValue, type Compatibility, reinterpreted } from './compatibility.ts';
import { membersMeant } from './conversions.ts';
import { defineKind } from './define.ts';
import type { ModelContext, Report } from './kindParts.ts';
import { identifierShape } from './shape.ts';

/** Fewer branches let less pass; none named is all of them. */
const branches: Compatibility = {
  direction: (before, after) => {
    if (before === undefined) return 'narrower';
    if (after === undefined) return 'wider';
    const [oldTerms, newTerms] = [before, after].map((value) => (isList(value) ? value : []));
    const isPart = (a: readonly Json[] = [], b: readonly Json[] = []): boolean => a.every((value) => b.includes(value));
    if (isPart(newTerms, oldTerms)) return 'narrower';
    if (isPart(oldTerms, newTerms)) return 'wider';
    return 'different';
  },
};

/** A term of a taxonomy, stored as the term's identifier. */
export const term = defineKind({
  name: 'term',
  about: 'A term of a taxonomy.',
  options: {
    taxonomy: z.string().describe('The taxonomy whose terms may be used.'),
    under: z
      .union([z.string().transform((term) => [term]), z.array(z.string()).min(1)])
      .optional()
      .describe('The allowed branches: one term or several, each with the terms below it.'),
    leaves: flag.describe('Whether only terms with nothing below them may be used.'),
  },
  example: { options: { taxonomy: 'region', under: 'north', leaves: true }, value: 'skerries' },
  mistakes: function* ({ taxonomy: name, under = [] }, context) {
    const taxonomy = context.taxonomyOf(name);
    if (!taxonomy)
      yield {
        option: 'taxonomy',
        says: `there is no taxonomy \`${name}\``,
        mend: didYouMean(name, context.taxonomies) ?? `Define it in model/taxonomies/${name}.yaml.`,
      };
    else
      for (const branch of under)
        if (!taxonomy.terms.has(branch) && !taxonomy.isOpen)
          yield {
            option: 'under',
            says: `there is no term ${quote(branch)} in ${name}`,
            mend: didYouMean(branch, taxonomy.terms.keys()) ?? `See its terms: lumbrik show ${name}:`,
          };
  },
  check: ({ taxonomy: name, under, leaves }, context) => {
    const taxonomy = context.taxonomyOf(name);
    return (value, report) => {
      const term = typeof value === 'string' ? taxonomy?.terms.get(value) : undefined;
      if (!term) reportUnknown(value, { name, taxonomy, language: context.languages[0] }, report);
      else if (under && !isUnder(term, under))
        report('term-not-allowed:under', { taxonomy: name, under }, { limit: under });
      else if (leaves && term.below.length > 0)
        report('term-not-allowed:leaves', { below: inUse(term.below).slice(0, 8) });
      else if (term.isRetired)
        report(
          'retired-term',
          { taxonomy: name, use: term.use },
          compact({ isWarning: true, fix: term.use === undefined ? undefined : { set: term.use } }),
        );
    };
  },
  changed: {
    taxonomy: reinterpreted,
    under: branches,
    leaves: byValue((after) => (after === true ? 'narrower' : 'wider')),
  },
  from: { text: meant, longText: meant, slug: meant, choice: meant },
  terms: {
    taxonomy: ({ taxonomy }) => taxonomy,
    of: (value, { taxonomy }) => (typeof value === 'string' ? { taxonomy, term: value } : undefined),
  },

  renamed: {
    options: (options, rename) => {
      if (rename.what === 'taxonomy' && rename.from === options.taxonomy) return { ...options, taxonomy: rename.to };
      if (rename.what !== 'term' || rename.taxonomy !== options.taxonomy || !options.under) return options;
      return { ...options, under: options.under.map((term) => (term === rename.from ? rename.to : term)) };
    },
    value: (value, { taxonomy }, rename) =>
      rename.what === 'term' && rename.taxonomy === taxonomy && rename.from === value ? rename.to : value,
  },

  stores: ({ taxonomy: name, under, leaves }, context) => {
    const taxonomy = context.taxonomyOf(name);
    // An unlisted term of an open taxonomy stands under nothing, and has nothing below it.
    if (!taxonomy || (taxonomy.isOpen && !under)) return identifierShape;

    const terms = [...taxonomy.terms.values()]
      .filter((term) => isUnder(term, under))
      .filter((term) => !leaves || term.below.length === 0);

    return { is: 'one of', values: terms.map((term) => term.name) };
  },
  cel: 'string',
  glance: 0.8,
  gist: ({ taxonomy, under, leaves }) =>
    [`of ${taxonomy}`, under ? `under ${list(under, 'or')}` : '', leaves ? 'leaves only' : '']
      .filter(Boolean)
      .join(', '),
});

const inUse = (terms: readonly Term[]): readonly string[] =>
  terms.filter(({ isRetired }) => !isRetired).map(({ name }) => name);

/** Where a term is looked for. */
interface Sought {
  readonly name: string;
  readonly taxonomy: Taxonomy | undefined;
  readonly language: string | undefined;
}

function reportUnknown(value: Json, { name, taxonomy, language }: Sought, report: Report): void {
  const text = String(value);
  const identifier = slugify(text, language);
  if (taxonomy?.isOpen) {
    const [name] = termsMeant(taxonomy)(text);
    const isWritten = typeof value === 'string' && isId(value);
    if (name !== undefined)
      report('unknown-term:word', { meant: name }, compact({ fix: { set: name }, isWarning: isWritten || undefined }));
    else if (!isWritten) report('unknown-term:form', { better: identifier });

    return;
  }

  const [termName] = taxonomy ? termsMeant(taxonomy)(text) : [];
  report('unknown-term', { taxonomy: name, meant: termName, near: taxonomy && nearest(text, taxonomy.terms) });
}

/** Which terms of a taxonomy a text means, by any word for them. */
const termsMeant = onceFor((taxonomy: Taxonomy) =>
  membersMeant(
    [...taxonomy.terms.values()].flatMap((term) => wordsFor(term).map((word) => [term.name, word] as const)),
  ),
);

/** Whether a term is in one of some branches; where none is named, it does. */
const isUnder = (term: Term | undefined, under: readonly string[] | undefined): boolean =>
  !under || term?.places.some((place) => place.some((step) => under.includes(step))) === true;

function meant(
  value: Json,
  { taxonomy: name, under }: { readonly taxonomy: string; readonly under?: readonly string[] | undefined },
  context: ModelContext,
) {
  const taxonomy = context.taxonomyOf(name);
  const termName =
    taxonomy && termsMeant(taxonomy)(String(value)).find((candidate) => isUnder(taxonomy.terms.get(candidate), under));
  const identifier = slugify(String(value), context.languages[0]);
  if (termName !== undefined) return { value: termName };
  if (taxonomy?.isOpen && identifier !== '') return { value: identifier };
  return { problem: `it is no term of ${name}` };
}
