import type { Field, Model } from '../model/link.ts';
import { fieldNamed, fieldsWithin } from '../model/nestedFields.ts';
import { grouped } from '../plain/grouped.ts';
import { onceFor } from '../plain/once.ts';
import { type Counter, countEntries, share } from './counter.ts';
import type { ComparedModels } from './differences/define.ts';
import { itemsOf } from './fieldValues.ts';

/** A field, and the terms that it takes before and not after, though they are there: for where they stand. */
interface LostTerms {
  readonly type: string;
  readonly field: string;
  readonly terms: ReadonlySet<string>;
}

/**
 * Terms that fields take before and not after, by the taxonomy that the fields name: those that are elsewhere now, or
 * that have others below them where a field takes leaves alone. The removal of a term has its own question.
 */
const lostTerms = onceFor(({ between, after }: ComparedModels): ReadonlyMap<string, readonly LostTerms[]> => {
  const lost = [...between.types.values()].flatMap((type) =>
    fieldsWithin(type.fields).flatMap((field): readonly (LostTerms & { readonly taxonomy: string })[] => {
      const taxonomy = field.kind.taxonomy(field.options);
      const other = after.types.get(type.name);
      const newField = other && fieldNamed(other, field.name);
      if (taxonomy === undefined || newField?.kind.taxonomy(newField.options) !== taxonomy) return [];

      const names = [...(between.taxonomies.get(taxonomy)?.terms.keys() ?? [])];
      const accepted = acceptedBy(field, after, names);
      const isThere = (term: string): boolean => after.taxonomies.get(taxonomy)?.terms.has(term) === true;
      const terms = [...acceptedBy(field, between, names)].filter((term) => !accepted.has(term) && isThere(term));
      if (terms.length === 0) return [];
      return [{ taxonomy, type: type.name, field: field.name, terms: new Set(terms) }];
    }),
  );
  return grouped(lost, ({ taxonomy }) => taxonomy);
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
const reachOf = (taxonomy: string, { after }: ComparedModels): readonly string[] => [
  taxonomy,
  ...[...after.taxonomies.values()]
    .filter(({ definition }) => definition.borrows?.some((borrow) => borrow.startsWith(`${taxonomy}:`)))
    .map(({ name }) => name),
];

/**
 * Whether a change of a taxonomy takes terms away from a field.
 * @param term the one that is lost, where it can only be that.
 */
export const losesTerms = (taxonomy: string, models: ComparedModels, term?: string): boolean =>
  lostIn(taxonomy, models).some(({ terms }) => term === undefined || terms.has(term));

const lostIn = (taxonomy: string, models: ComparedModels): readonly LostTerms[] =>
  reachOf(taxonomy, models).flatMap((name) => lostTerms(models).get(name) ?? []);

/** Counts the entries whose terms a change of a taxonomy takes away from them. */
export function lostTermsCounter(taxonomy: string, models: ComparedModels): Counter {
  const lost = lostIn(taxonomy, models);
  return countEntries(
    undefined,
    ({ type, fields }) =>
      lost.some(
        (lost) =>
          lost.type === type &&
          itemsOf(models.between, lost, fields).some((item) => typeof item === 'string' && lost.terms.has(item)),
      ),
    (hits, total) => `${share(hits, total)} values that no longer fit`,
  );
}
