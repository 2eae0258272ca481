import type { TaxonomyDoc } from '../../definition/taxonomy.ts';
import { defineDifference } from './define.ts';

/** A taxonomy is gone; the fields that took its terms differ as well. */
export interface TaxonomyRemoved {
  readonly name: 'taxonomy-removed';
  readonly taxonomy: string;
  readonly definition: TaxonomyDoc;
}

export const taxonomyRemoved = defineDifference<TaxonomyRemoved>({
  name: 'taxonomy-removed',
  address: ({ taxonomy }) => `${taxonomy}:`,
  say: () => 'taxonomy removed',
  rate: () => ({ entries: 'valid', readers: 'break' }),
  draft: {
    step: ([{ taxonomy }]) => ({ data: { drop: `${taxonomy}:` }, why: 'The taxonomy is gone from the model.' }),
  },
});
