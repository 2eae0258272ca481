import { asJson } from '../../definition/model.ts';
import type { Branch, TaxonomyDoc } from '../../definition/taxonomy.ts';
import { type Json, type JsonObject, own } from '../../plain/json.ts';
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
      data: { add: `${taxonomy}:`, taxonomy: asWritten(definition) },
      why: 'New taxonomy; no entry changes.',
    }),
  },
});

/** A taxonomy as its file says it: terms nested under each other. */
function asWritten({ terms, tree, ...options }: TaxonomyDoc): JsonObject {
  const nest = (branches: readonly Branch[]): Json =>
    branches.map(({ term, also, terms: below = [] }) => {
      if (also) return { also: term };
      const whole = { term, ...asJson(own(terms, term) ?? {}) };
      return below.length > 0 ? { ...whole, terms: nest(below) } : whole;
    });
  return { ...asJson(options), terms: nest(tree) };
}
