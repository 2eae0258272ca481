import { asJson } from '../definition/model.ts';
import type { Branch, TaxonomyDoc } from '../definition/taxonomy.ts';
import { type Json, type JsonObject, own } from '../plain/json.ts';

/** A taxonomy as its file says it: terms nested under each other. */
export function taxonomyAsWritten({ terms, tree, ...options }: TaxonomyDoc): JsonObject {
  const nest = (branches: readonly Branch[]): Json =>
    branches.map(({ term, also, terms: below = [] }) => {
      if (also) return { also: term };
      const whole = { term, ...asJson(own(terms, term) ?? {}) };
      return below.length > 0 ? { ...whole, terms: nest(below) } : whole;
    });
  return { ...asJson(options), terms: nest(tree) };
}
