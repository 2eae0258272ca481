import type { FieldStatistics } from './fieldStatistics.ts';
import type { Learning } from './value.ts';

/** So many keys, each in so few of the objects, are data if their values are alike. */
const [manyKeys, seldom] = [12, 0.5];

/** How far a point can be from the equator, and from the meridian, in degrees. */
const degrees = new Map([
  ['lat', 90],
  ['lon', 180],
]);

/** Whether all objects are a latitude and a longitude, and no more. */
export const isPoint = ({ inside, objects }: FieldStatistics): boolean =>
  inside.size === degrees.size &&
  [...inside].every(([key, { count: times, integers, decimals, numbers }]) => {
    const limit = degrees.get(key) ?? Number.NEGATIVE_INFINITY;
    return times === objects && integers + decimals === times && numbers.least >= -limit && numbers.most <= limit;
  });

/** Whether the keys of objects are data: many keys, each in few objects. */
export function hasKeysOfData({ inside, objects }: FieldStatistics): boolean {
  const inner = [...inside.values()];
  if (inner.length < manyKeys || inner.some((statistics) => statistics.filled > seldom * objects)) return false;
  const forms = new Set(inner.map((statistics) => (statistics.lists > 0 ? 'list' : formOf(statistics))));
  return forms.size === 1;
}

/** So many keys that hold objects of one form are data. */
const manyAlike = 3;

/** Whether under each key stands an object with the same keys as under the others: `{ eng: { f, m }, fra: { f, m } }`. */
export function holdsAlike({ inside }: FieldStatistics, { isLanguage }: Learning): boolean {
  const filled = [...inside.values()].filter((statistics) => statistics.filled > 0);
  if (filled.length < (([...inside.keys()].every(isLanguage) && 2) || manyAlike)) return false;

  const [first] = filled;
  const keys = [...(first?.inside.keys() ?? [])];

  return (
    keys.length > 1 &&
    filled.every(
      (statistics) =>
        statistics.lists === 0 &&
        statistics.objects === statistics.count &&
        statistics.any === undefined &&
        statistics.inside.size === keys.length &&
        keys.every((key) => statistics.inside.has(key)),
    )
  );
}

/** What most values in a place are. */
function formOf({ texts, integers, decimals, booleans, objects }: FieldStatistics): string {
  const forms = { text: texts, number: integers + decimals, boolean: booleans, object: objects };
  return Object.entries(forms).toSorted(([, a], [, b]) => b - a)[0]?.[0] ?? '';
}
