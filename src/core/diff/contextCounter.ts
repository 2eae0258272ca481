import type { Field, Model } from '../model/link.ts';
import { fieldsWithin } from '../model/nestedFields.ts';
import { ownValue } from '../plain/json.ts';
import { type Counter, countEntries, share } from './counter.ts';
import { areNew, faults } from './fieldValues.ts';

/** Entries whose values no longer fit because of the surroundings of their fields, which stay the same. */
export function contextCounter(between: Model, after: Model, isConcerned: (field: Field) => boolean): Counter {
  const perType = new Map(
    [...between.types].map(([name, { fields }]) => [
      name,
      [...fields.values()]
        .filter((field) => [field, ...fieldsWithin(field.fields)].some(isConcerned))
        .map((field) => ({
          name: field.name,
          passed: faults(field, between.context),
          passes: faults(field, after.context),
        })),
    ]),
  );

  return countEntries(
    undefined,
    ({ type, fields, status }) =>
      (perType.get(type) ?? []).some(({ name, passed, passes }) =>
        areNew(passed(ownValue(fields, name), status), passes(ownValue(fields, name), status)),
      ),
    (hits, total) => `${share(hits, total)} values that no longer fit`,
  );
}

/** Whether the values of a field depend on the languages of the workspace. */
export const isLocalized = ({ common, kind }: Field): boolean => common.localized === true || kind.usesLanguages;
/** Whether a field points at entries of certain types. */
export const isReference = ({ kind, options }: Field): boolean => kind.pointsAt(options).types.length > 0;
