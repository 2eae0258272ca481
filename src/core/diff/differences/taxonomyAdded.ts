import type { TaxonomyDoc } from '../../definition/taxonomy.ts';
import { taxonomyAsWritten } from '../../model/taxonomyAsWritten.ts';
import { defineDifference } from './define.ts';

/** There is a new taxonomy. */
export interface TaxonomyAdded {
  readonly name: 'taxonomy-added';
  readonly taxonomy: string;
  readonly definition: TaxonomyDoc;
}

export const taxonomyAdded = defineDifference<TaxonomyAdded>({
  name: 'taxonomy-added',
  address: ({ taxonomy }) => `${taxonomy}:`,
  say: () => 'new taxonomy',
  rate: () => ({ entries: 'valid', readers: 'notice' }),
  draft: {
    step: ([{ taxonomy, definition }]) => ({
      data: { add: `${taxonomy}:`, taxonomy: taxonomyAsWritten(definition) },
      why: 'New taxonomy; no entry changes.',
    }),
  },
});
