import { asJson } from '../definition/model.ts';
import type { Branch, TaxonomyDoc } from '../definition/taxonomy.ts';
import { type Json, type JsonObject, ownValue } from '../plain/json.ts';

/** A taxonomy as its file says it: terms nested under each other. */
export function taxonomyAsWritten({ terms, tree, ...options }: TaxonomyDoc): JsonObject {
  const nest = (branches: readonly Branch[]): Json =>
    branches.map(({ term, also, terms: below = [] }) => {
      if (also) return { also: term };
      const definition = { term, ...asJson(ownValue(terms, term) ?? {}) };
      if (below.length > 0) return { ...definition, terms: nest(below) };
      return definition;
    });

  return { ...asJson(options), terms: nest(tree) };
}
