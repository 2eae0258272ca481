import { z } from 'zod';
import type { Json } from '../json.ts';
import { didYouMean } from '../nearest.ts';
import { memberMeant } from './carry.ts';
import { defineKind, type Surroundings } from './define.ts';
import { reinterpreted } from './meaning.ts';

/** A term of a taxonomy, stored as the term's identifier. */
export const term = defineKind({
  name: 'term',
  about: 'A term of a taxonomy.',
  options: { taxonomy: z.string().describe('The taxonomy whose terms may be used.') },
  example: { options: { taxonomy: 'region' }, value: 'skerries' },
  mistakes: function* ({ taxonomy }, around) {
    if (!around.taxonomies.includes(taxonomy))
      yield {
        option: 'taxonomy',
        says: `there is no taxonomy \`${taxonomy}\``,
        mend: didYouMean(taxonomy, around.taxonomies).trim() || `Define it in model/taxonomies/${taxonomy}.yaml.`,
      };
  },
  check: ({ taxonomy }, around) => {
    const terms = around.termsOf(taxonomy) ?? new Map<string, string>();
    return (value, report) => {
      if (typeof value === 'string' && terms.has(value)) return;
      report('unknown-term', {
        says: `is no term of the taxonomy ${taxonomy}`,
        mend: `Choose one of its terms (lumbrik show ${taxonomy}:).${didYouMean(String(value), terms.keys())}`,
      });
    };
  },
  changed: { taxonomy: reinterpreted },
  from: { text: meant, longText: meant, slug: meant, choice: meant },
  taxonomy: ({ taxonomy }) => taxonomy,
  term: (value, { taxonomy }) => (typeof value === 'string' ? { taxonomy, term: value } : undefined),
  renameInOptions: (options, rename) =>
    rename.what === 'taxonomy' && rename.from === options.taxonomy ? { ...options, taxonomy: rename.to } : options,
  renameInValue: (value, { taxonomy }, rename) =>
    rename.what === 'term' && rename.taxonomy === taxonomy && rename.from === value ? rename.to : value,
  cel: 'string',
  gist: ({ taxonomy }) => `of ${taxonomy}`,
});

function meant(value: Json, { taxonomy }: { readonly taxonomy: string }, around: Surroundings) {
  const name = memberMeant(String(value), around.termsOf(taxonomy) ?? []);
  return name === undefined ? { lost: `it is no term of ${taxonomy}` } : { value: name };
}
