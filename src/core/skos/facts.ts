import type { Facts } from '../definition/taxonomy.ts';
import { compact } from '../plain/json.ts';
import { fullAddress, isResource, type Statement, shortName } from './statement.ts';

type Said = Facts[string][number];

/** What a statement says, as a taxonomy keeps what it has no word for; `undefined` where it leads to a thing without an address. */
export function factOf(object: Statement['object']): Said | undefined {
  if (isResource(object)) return 'iri' in object ? { iri: object.iri } : undefined;
  const { text, language, type } = object;
  if (language === undefined && type === undefined) return text;
  return compact({ text, language, type: type === undefined ? undefined : shortName(type) });
}

/** The statements that were kept so. */
export const statementsOf = (facts: Facts | undefined): readonly Pick<Statement, 'predicate' | 'object'>[] =>
  Object.entries(facts ?? {}).flatMap(([name, all]) =>
    all.map((said) => ({ predicate: fullAddress(name), object: objectOf(said) })),
  );

function objectOf(said: Said): Statement['object'] {
  if (typeof said === 'string') return { text: said };
  if ('iri' in said) return said;
  return compact({ ...said, type: said.type === undefined ? undefined : fullAddress(said.type) });
}
