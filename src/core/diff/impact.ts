import { keyOfField } from '../definition/fieldName.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { Rename } from '../definition/rename.ts';
import type { Assets } from '../entry/assets.ts';
import { link, type Model, type Type } from '../model/link.ts';
import { type MovingIn, moveValue, movingIn } from '../model/move.ts';
import { holderPaths } from '../model/nestedFields.ts';
import { renameStages } from '../model/rename.ts';
import { valueRenamer } from '../model/renameValues.ts';
import { grouped } from '../plain/grouped.ts';
import {
  changedAt,
  compact,
  isObject,
  type Json,
  type JsonObject,
  ownValue,
  withKey,
  withoutKey,
} from '../plain/json.ts';
import { once, onceFor } from '../plain/once.ts';
import type { Comparison } from './compare.ts';
import type { Counter, Impact, SampledEntry } from './counter.ts';
import { carriedField, counterOf, type Difference, rateDifference } from './difference.ts';
import type { Carry, ComparedModels, NamedDifference } from './differences/define.ts';
import { type Rating, worstOf } from './rating.ts';

/** The models that differences are rated and counted on. */
export const comparedModels = onceFor(
  ({ renamed, after }: Comparison): ComparedModels => ({ between: link(renamed), after: link(after) }),
);

/** What all differences of a comparison mean together. */
export const ratingOf = (comparison: Comparison): Rating =>
  worstOf(comparison.differences.map((difference) => rateDifference(difference, comparedModels(comparison))));

/** Counts what each difference of a comparison does to entries, all in one pass over them. */
export class ImpactCount {
  readonly #counters: ReadonlyMap<NamedDifference, Counter>;
  readonly #view: (entry: SampledEntry) => SampledEntry;

  /**
   * @param before the older model, which the entries obey.
   * @param assets the files that entries may name.
   */
  constructor(before: Model, comparison: Comparison, assets: Assets) {
    const { differences, renames, moves } = comparison;
    const { between, after } = comparedModels(comparison);
    const linked = { between: withAssets(between, assets), after: withAssets(after, assets) };
    const models = compact({ ...linked, carried: carriedView(differences, linked) });
    const named = once(() =>
      viewThrough(
        before.definition,
        renames.map(({ rename }) => rename),
      ),
    );
    const ways = moves.map(({ move }) => ({ type: move.type, way: movingIn(between.types.get(move.type), move) }));
    this.#view = (entry) =>
      ways.reduce((view, { type, way }) => (view.type === type ? movedView(view, way) : view), named()(entry));
    this.#counters = new Map(
      differences.flatMap((difference: Difference) => {
        const counter = counterOf(difference, models);
        if (!counter) return [];
        return [[difference, counter] as const];
      }),
    );
  }

  /** @param entry in the names of the older model. */
  see(entry: SampledEntry): void {
    const view = this.#view(entry);
    for (const counter of this.#counters.values()) counter.see(view);
  }

  impactOf(difference: NamedDifference): Impact | undefined {
    return this.#counters.get(difference)?.impact();
  }
}

const withAssets = (model: Model, assets: Assets): Model => ({ ...model, context: { ...model.context, assets } });

/** Gives the values of an entry the shapes that fields of the newer model have; what cannot be carried over is left out. */
function carriedView(
  differences: readonly Difference[],
  models: ComparedModels,
): ((entry: SampledEntry) => SampledEntry) | undefined {
  const carried = differences.flatMap((difference) => carriedField(difference, models) ?? []);
  if (carried.length === 0) return undefined;

  const carriers = grouped(carried, ({ type }) => type);

  return (entry) => {
    const type = models.between.types.get(entry.type);
    if (!type) return entry;

    const carry = (fields: JsonObject, { field, carry: convert }: { field: string; carry: Carry }): JsonObject =>
      holderPaths(type, field, fields).reduce<Json>(
        (result, path) => changedAt(result, path, (holder) => carriedHolder(holder, keyOfField(field), convert)),
        fields,
      ) as JsonObject;

    return { ...entry, fields: (carriers.get(entry.type) ?? []).reduce(carry, entry.fields) };
  };
}

function carriedHolder(holder: Json, key: string, carry: Carry): Json {
  const value = isObject(holder) ? ownValue(holder, key) : undefined;
  if (!isObject(holder) || value === undefined) return holder;
  const become = carry(value);
  if (become === undefined) return withoutKey(holder, key);
  return withKey(holder, key, become);
}

/** Gives an entry's type, fields and values the names they have after some renames. */
function viewThrough(before: ModelDoc, renames: readonly Rename[]): (entry: SampledEntry) => SampledEntry {
  const stages = renameStages(before, renames).map((stage) => ({
    ...stage,
    types: once(() => link(stage.before).types),
    valuesOf: stage.renames.map((rename) => valueRenamer(stage.before, rename)),
  }));
  return (entry) =>
    stages.reduce((view, stage) => {
      const renames = stage.renames.filter((rename) => !('type' in rename) || rename.type === view.type);
      if (renames.length === 0) return view;
      return renamedView(view, stage.types().get(view.type), renames, stage.valuesOf);
    }, entry);
}

/** An entry after a field of its type was moved. */
const movedView = (entry: SampledEntry, way: MovingIn): SampledEntry => ({
  ...entry,
  fields: moveValue(entry.fields, way),
});

function renamedView(
  entry: SampledEntry,
  type: Type | undefined,
  level: readonly Rename[],
  valuesOf: readonly ReturnType<typeof valueRenamer>[],
): SampledEntry {
  if (!type) return entry;

  const [first] = level;
  // The name of a field is in no value.
  const renamedValues = first?.what === 'field' ? [] : valuesOf.flatMap((values) => [...values(entry.fields, type)]);
  const fields = renamedValues.reduce<JsonObject>(
    (result, [name, value]) => withKey(result, name, value),
    entry.fields,
  );
  if (first?.what === 'type' && first.from === entry.type) return { ...entry, type: first.to, fields };
  if (first?.what !== 'field' || first.type !== entry.type) return { ...entry, fields };

  const names = new Map(level.map(({ from, to }) => [keyOfField(from), to]));

  const renamed = (holder: Json): Json => {
    if (!isObject(holder)) return holder;
    return Object.fromEntries(Object.entries(holder).map(([key, value]) => [names.get(key) ?? key, value]));
  };

  const paths = holderPaths(type, first.from, fields);

  return {
    ...entry,
    fields: paths.reduce<Json>((result, path) => changedAt(result, path, renamed), fields) as JsonObject,
  };
}
