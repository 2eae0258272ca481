import { checkField } from '../check/field.ts';
import type { Status } from '../definition/builtIn.ts';
import { isRequiredOf } from '../definition/field.ts';
import { keyOfField } from '../definition/fieldName.ts';
import type { ModelContext } from '../kinds/kindParts.ts';
import { countedValue } from '../model/emptiness.ts';
import type { Field, Model } from '../model/link.ts';
import { fieldNamed, holdersOf } from '../model/nestedFields.ts';
import { leaves } from '../model/traversal.ts';
import { termsIn } from '../model/uses.ts';
import { type Json, type JsonObject, ownValue, type Path, pointer } from '../plain/json.ts';
import { once } from '../plain/once.ts';
import { count } from '../plain/words.ts';
import { type Counter, countEntries, type SampledEntry, share } from './counter.ts';

/** What a difference of a field is about. */
export interface FieldPlace {
  readonly type: string;
  readonly field: string;
}

/** The groups of keys of an entry in which a field stands: the entry itself, or the objects that it is inside of. */
export const holders = (model: Model, { type, field }: FieldPlace, fields: JsonObject): readonly JsonObject[] =>
  holdersOf(model.types.get(type), field, fields);

/** The values of a field in an entry: one for each of its holders, also where there is none. */
export const valuesOf = (model: Model, place: FieldPlace, fields: JsonObject): readonly (Json | undefined)[] =>
  holders(model, place, fields).map((holder) => ownValue(holder, keyOfField(place.field)));

/** Every single value of a field in an entry. */
export function itemsOf(model: Model, place: FieldPlace, fields: JsonObject): readonly Json[] {
  const type = model.types.get(place.type);
  const field = type && fieldNamed(type, place.field);
  if (!field) return [];
  return valuesOf(model, place, fields).flatMap((value) => leaves(field, value).map(({ item }) => item));
}

/** Counts entries that have a value in a field. @param except entries that do not count. */
export function filled(
  model: Model,
  place: FieldPlace,
  describe: (hits: number, total: number) => string,
  except: (entry: SampledEntry) => boolean = () => false,
): Counter {
  const field = once(() => {
    const type = model.types.get(place.type);
    return (type && fieldNamed(type, place.field)) ?? { common: {} };
  });
  return countEntries(
    place.type,
    (entry) => {
      const value = valuesOf(model, place, entry.fields).find((value) => countedValue(field(), value) !== undefined);
      if (value === undefined || except(entry)) return false;
      return { value };
    },
    describe,
  );
}

/** Counts entries that lack a value which is required of them. */
export function missing(
  type: string,
  required: Json | undefined,
  lacks: (entry: SampledEntry) => boolean,
): Counter | undefined {
  if (required === undefined) return undefined;
  return countEntries(
    type,
    (entry) => isRequiredOf(required, entry.status) && lacks(entry),
    (hits, total) => `${share(hits, total)} no value`,
  );
}

/** Counts entries that use a term, anywhere. */
export function termCounter(taxonomy: string, term: string, between: Model): Counter {
  const uses = ({ type, fields }: SampledEntry): boolean =>
    [...termsIn(between.types.get(type), fields)].some(
      (used) =>
        used.term === term &&
        (used.taxonomy === taxonomy ||
          between.taxonomies.get(used.taxonomy)?.terms.get(term)?.borrowedFrom === taxonomy),
    );

  return countEntries(undefined, uses, (hits) => `${count(hits, 'entry uses', 'entries use')} it`);
}

/** Problems of a value: the names of the findings, each with the place inside the value. */
export type Faults = (value: Json | undefined, status: Status) => readonly Fault[];

/** A finding in a value, with its place. */
export interface Fault {
  readonly message: string;
  readonly path: Path;
}

/** Compiles a list of the things that are wrong with a value. */
export function faults(field: Field, context: ModelContext): Faults {
  const check = checkField(field, context);
  return (value, status) => {
    const wrong: Fault[] = [];
    check(value, status, (path, { message }) => wrong.push({ message, path }));
    return wrong;
  };
}

/**
 * Whether something is wrong that was not: as often as before, and by the same finding at the same place, is nothing
 * new; another fault in the place of one that is gone is.
 * @param describe what tells one fault from another.
 */
export function areNew(
  before: readonly Fault[],
  after: readonly Fault[],
  describe: (fault: Fault) => string = ({ message, path }) => `${message} ${pointer(path)}`,
): boolean {
  if (after.length === 0) return false;

  const faultsBefore = new Map<string, number>();
  for (const fault of before) faultsBefore.set(describe(fault), (faultsBefore.get(describe(fault)) ?? 0) + 1);
  return after.some((fault) => {
    const remaining = faultsBefore.get(describe(fault)) ?? 0;
    faultsBefore.set(describe(fault), remaining - 1);
    return remaining <= 0;
  });
}
