import type { FieldDoc } from '../core/definition/field.ts';
import type { ModelDoc } from '../core/definition/model.ts';
import type { Comparison } from '../core/diff/compare.ts';
import type { Impact } from '../core/diff/counter.ts';
import { addressOf, type Difference, kindOf, rateDifference, sayDifference } from '../core/diff/difference.ts';
import type { ComparedModels } from '../core/diff/differences/define.ts';
import { comparedModels } from '../core/diff/impact.ts';
import { worstOf } from '../core/diff/rating.ts';
import { readersWhy } from '../core/diff/readersWhy.ts';
import { formOf } from '../core/model/nestedFields.ts';
import { type Provenance, provenanceOf } from '../core/model/provenance.ts';
import { grouped } from '../core/plain/grouped.ts';
import { compact, equal, type JsonObject, mapValues, ownValue } from '../core/plain/json.ts';
import { Change } from './result.ts';

/** What a difference does to the entries; `undefined` where nothing was counted. */
type ImpactOf = (difference: Difference) => Impact | undefined;

/**
 * Differences as they are shown. One that was made in a kit, a base type, a shared field or a kind is shown once, where
 * it was made, with every field that it arrives at.
 */
export function changesBetween(comparison: Comparison, impactOf: ImpactOf = () => undefined): Change[] {
  const { before, after, differences } = comparison;
  const models = comparedModels(comparison);
  const sources = new Set<string>();
  const groups = grouped(differences, (difference) => {
    const source = sourceOf(difference, before, after);
    if (source) sources.add(source.split('.')[0] ?? '');
    return `${source ?? addressOf(difference)} ${sayDifference(difference)}`;
  });
  const removed = new Set(
    differences.flatMap((difference) => (difference.name === 'type-removed' ? [difference.type] : [])),
  );

  return [...groups].flatMap(([, group]): Change[] => {
    const [first] = group;
    if (!first || kindOf(first).hide?.(first, sources)) return [];

    // A type that is gone extends nothing any more: that is reported alone where it hurts somebody else.
    const isOfRemoved = first.name === 'shared-changed' && first.part === 'types' && removed.has(first.key);
    if (isOfRemoved && (impactOf(first)?.hits ?? 0) === 0) return [];

    // Changes of a base type are visible there too.
    const source = sourceOf(first, before, after) ?? (group.length > 1 ? addressOf(first) : undefined);

    return [
      source === undefined ? changeOf(first, impactOf(first), models) : arriving(source, group, { impactOf, models }),
    ];
  });
}

/** Where a difference of a field was made, if not at the field itself: `sharing.shareTitle`, `price`. */
function sourceOf(difference: Difference, before: ModelDoc, after: ModelDoc): string | undefined {
  const place = kindOf(difference).field?.(difference);
  if (!place) return undefined;

  const { type, field, side } = place;
  const model = side === 'before' ? before : after;

  // A field inside an object may be shared itself, or come along with the object.
  for (let name = field; name !== ''; name = name.slice(0, Math.max(0, name.lastIndexOf('.')))) {
    const inside = field.slice(name.length);
    const part = provenanceOf(model, type, name).findLast((provenance) => {
      const [oldDefinition, newDefinition] = [before, after].map((side) => definitionIn(side, provenance, inside));
      return isSeenIn(difference, oldDefinition, newDefinition);
    });
    if (part) return (part.field === undefined ? part.name : `${part.name}.${part.field}`) + inside;
  }

  return undefined;
}

/** What a part of a model says of a field. @param inside the way from that field to one inside it: `.opens`. */
function definitionIn(
  { types, shared: { kits = {}, fields = {}, kinds = {} } = {} }: ModelDoc,
  { what: category, name, field }: Provenance,
  inside: string,
): JsonObject | undefined {
  const holders: Readonly<Record<Provenance['what'], Readonly<Record<string, FieldDoc>>>> = {
    type: ownValue(types, name)?.fields ?? {},
    kit: ownValue(kits, name)?.fields ?? {},
    field: fields,
    kind: mapValues(kinds, ({ on, options }): FieldDoc => ({ ...options, kind: on })),
  };
  return formOf(holders[category], `${field ?? name}${inside}`);
}

/** Whether a difference shows in what a part of the model says: of an option, the very same change. */
function isSeenIn(
  difference: Difference,
  oldDefinition: JsonObject | undefined,
  newDefinition: JsonObject | undefined,
): boolean {
  if (difference.name !== 'field-changed') return !equal(oldDefinition, newDefinition);
  const { option, before, after } = difference;
  return (
    equal(oldDefinition && ownValue(oldDefinition, option), before) &&
    equal(newDefinition && ownValue(newDefinition, option), after)
  );
}

function arriving(
  source: string,
  group: readonly Difference[],
  { impactOf, models }: { readonly impactOf: ImpactOf; readonly models: ComparedModels },
): Change {
  const [first] = group.map((difference) => changeOf(difference, undefined, models));
  const arrivals = group.map((difference) => ({ address: addressOf(difference), impact: impactOf(difference) }));
  const counted = arrivals.flatMap(({ address, impact }) => (impact ? [{ address, impact }] : []));
  const hit = counted.filter(({ impact }) => impact.hits > 0);
  const ways = counted.flatMap(({ impact }) => impact.way ?? []);
  const impact = compact({
    hits: hit.reduce((sum, place) => sum + place.impact.hits, 0),
    of: counted.reduce((sum, place) => sum + place.impact.of, 0),
    examples: hit.flatMap((place) => place.impact.examples).slice(0, 3),
    says: (hit.length > 0 ? hit : counted).map((place) => `${place.address}: ${place.impact.says}`).join('; '),
    // Where it arrives the values may say other things of themselves: then each step of the draft says it.
    way: ways.every(({ says: message }) => message === ways[0]?.says) ? ways[0] : undefined,
    carried: counted.find((place) => place.impact.carried !== undefined)?.impact.carried,
    changed: counted.some(({ impact: { changed } }) => changed !== undefined)
      ? counted.reduce((sum, { impact: { changed = 0 } }) => sum + changed, 0)
      : undefined,
  });

  return {
    ...(first ?? { change: 'field-changed', says: '', entries: 'valid', readers: 'unaffected' }),
    ...worstOf(group.map((difference) => rateDifference(difference, models))),
    address: source,
    arrives: arrivals.map(({ address }) => address),
    ...(counted.length > 0 ? { impact } : {}),
  };
}

/** A difference as it is shown. */
function changeOf(difference: Difference, impact: Impact | undefined, models: ComparedModels): Change {
  const rating = rateDifference(difference, models);
  return Change.parse(
    compact({
      change: difference.name,
      address: addressOf(difference),
      says: sayDifference(difference),
      ...rating,
      readersWhy: readersWhy(difference.name, rating.readers),
      ...kindOf(difference).details?.(difference),
      impact,
    }),
  );
}
