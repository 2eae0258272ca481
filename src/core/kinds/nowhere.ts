import type { ModelContext } from './kindParts.ts';

/** A context without a model: kinds look at values alone. */
export const nowhere: ModelContext = {
  languages: ['en'],
  types: [],
  taxonomies: [],
  taxonomyOf: () => undefined,
  languageOptions: {},
  acceptedAs: (type) => [type],
  kindsOf: () => undefined,
};
