import type { Facts } from '../definition/taxonomy.ts';
import { compact } from '../plain/json.ts';
import { fullAddress, isResource, type Statement, shortName } from './statement.ts';

type StatedFact = Facts[string][number];

/** What a statement says, as a taxonomy keeps facts without a key of ours; `undefined` where it leads to a thing without an address. */
export function factOf(object: Statement['object']): StatedFact | undefined {
  if (isResource(object)) return 'iri' in object ? { iri: object.iri } : undefined;
  const { text, language, type } = object;
  if (language === undefined && type === undefined) return text;
  return compact({ text, language, type: type === undefined ? undefined : shortName(type) });
}

/** The statements that were kept so. */
export const statementsOf = (facts: Facts | undefined): readonly Pick<Statement, 'predicate' | 'object'>[] =>
  Object.entries(facts ?? {}).flatMap(([name, objects]) =>
    objects.map((object) => ({ predicate: fullAddress(name), object: objectOf(object) })),
  );

function objectOf(fact: StatedFact): Statement['object'] {
  if (typeof fact === 'string') return { text: fact };
  if ('iri' in fact) return fact;
  return compact({ ...fact, type: fact.type === undefined ? undefined : fullAddress(fact.type) });
}
