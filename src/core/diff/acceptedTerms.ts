import type { Field, Model } from '../model/link.ts';
import { fieldNamed, fieldsWithin } from '../model/nestedFields.ts';
import { onceFor } from '../plain/once.ts';
import { contextCounter } from './contextCounter.ts';
import type { Counter } from './counter.ts';
import type { Compared } from './differences/define.ts';

/**
 * The terms that some field takes before and not after, by the taxonomy that the field names: those that are gone, that
 * stand elsewhere now, that have others below them where a field takes leaves alone.
 */
const lostTerms = onceFor(({ between, after }: Compared): ReadonlyMap<string, ReadonlySet<string>> => {
  const lost = new Map<string, Set<string>>();
  for (const type of between.types.values())
    for (const field of fieldsWithin(type.fields)) {
      const taxonomy = field.kind.taxonomy(field.options);
      const other = after.types.get(type.name);
      const is = other && fieldNamed(other, field.name);
      if (taxonomy === undefined || is?.kind.taxonomy(is.options) !== taxonomy) continue;
      const taken = acceptedBy(field, after, [...(between.taxonomies.get(taxonomy)?.terms.keys() ?? [])]);
      for (const term of acceptedBy(field, between, [...(between.taxonomies.get(taxonomy)?.terms.keys() ?? [])]))
        if (!taken.has(term)) lost.set(taxonomy, (lost.get(taxonomy) ?? new Set()).add(term));
    }
  return lost;
});

/** The terms that a field takes, of some, in the taxonomies of a model. */
function acceptedBy({ kind, options }: Field, { context }: Model, terms: readonly string[]): ReadonlySet<string> {
  const check = kind.check(options, context);
  return new Set(
    terms.filter((term) => {
      let isTaken = true;
      check(term, (_message, _data, { isWarning } = {}) => {
        if (!isWarning) isTaken = false;
      });
      return isTaken;
    }),
  );
}

/** The taxonomies whose fields a change of one reaches: itself, and those that borrow from it. */
const reachOf = (taxonomy: string, { after }: Compared): readonly string[] => [
  taxonomy,
  ...[...after.taxonomies.values()]
    .filter(({ definition }) => definition.borrows?.some((one) => one.startsWith(`${taxonomy}:`)))
    .map(({ name }) => name),
];

/**
 * Whether a change of a taxonomy takes terms away from a field.
 * @param term the one that is lost, where it can only be that.
 */
export const losesTerms = (taxonomy: string, models: Compared, term?: string): boolean =>
  reachOf(taxonomy, models).some((name) => {
    const lost = lostTerms(models).get(name);
    return term === undefined ? lost !== undefined : lost?.has(term);
  });

/** Counts the entries whose terms a change of a taxonomy takes away from them. */
export function lostTermsCounter(taxonomy: string, { between, after }: Compared): Counter {
  const reach = reachOf(taxonomy, { between, after });
  return contextCounter(between, after, ({ kind, options }) => reach.includes(kind.taxonomy(options) ?? ''));
}
