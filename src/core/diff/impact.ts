import { keyOfField } from '../definition/fieldName.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { Rename } from '../definition/rename.ts';
import type { Assets } from '../entry/assets.ts';
import { converter } from '../model/convertValue.ts';
import { countedValue } from '../model/emptiness.ts';
import { type Field, link, linkField, type Model, type Type } from '../model/link.ts';
import { type MovingIn, moveValue, movingIn } from '../model/move.ts';
import { fieldNamed, holderPaths } from '../model/nestedFields.ts';
import { renameStages, valueRenamer } from '../model/rename.ts';
import { rewriter } from '../model/rewriter.ts';
import { textWeighing } from '../model/writtenTexts.ts';
import { grouped } from '../plain/grouped.ts';
import { changedAt, compact, isObject, type Json, type JsonObject, own, withKey, withoutKey } from '../plain/json.ts';
import { once, onceFor } from '../plain/once.ts';
import type { Comparison } from './compare.ts';
import type { Counter, Impact, SeenEntry } from './counter.ts';
import { counterOf, type Difference, rateDifference } from './difference.ts';
import type { Compared, Named } from './differences/define.ts';
import type { FieldPlace } from './fieldValues.ts';
import { type Rating, worstOf } from './rating.ts';

/** The models that differences are rated and counted on. */
export const comparedModels = onceFor(
  ({ renamed, after }: Comparison): Compared => ({ between: link(renamed), after: link(after) }),
);

/** What all differences of a comparison mean together. */
export const ratingOf = (comparison: Comparison): Rating =>
  worstOf(comparison.differences.map((difference) => rateDifference(difference, comparedModels(comparison))));

/** Counts what each difference of a comparison does to entries, all in one pass over them. */
export class ImpactCount {
  readonly #counters: ReadonlyMap<Named, Counter>;
  readonly #view: (entry: SeenEntry) => SeenEntry;

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
      ways.reduce((seen, { type, way }) => (seen.type === type ? movedView(seen, way) : seen), named()(entry));
    this.#counters = new Map(
      differences.flatMap((difference: Difference) => {
        const counter = counterOf(difference, models);
        return counter ? [[difference, counter] as const] : [];
      }),
    );
  }

  /** @param entry in the names of the older model. */
  see(entry: SeenEntry): void {
    const view = this.#view(entry);
    for (const counter of this.#counters.values()) counter.see(view);
  }

  impactOf(difference: Named): Impact | undefined {
    return this.#counters.get(difference)?.impact();
  }
}

const withAssets = (model: Model, assets: Assets): Model => ({ ...model, context: { ...model.context, assets } });

/** Gives the values of an entry the shapes that fields of the newer model have; what cannot be carried over is left out. */
function carriedView(
  differences: readonly Difference[],
  { between, after }: Compared,
): ((entry: SeenEntry) => SeenEntry) | undefined {
  const carried = differences.flatMap((one) => carriedField(one, after) ?? []);
  if (carried.length === 0) return undefined;
  const carriers = grouped(carried, ({ type }) => type);
  return (entry) => {
    const type = between.types.get(entry.type);
    if (!type) return entry;
    const carry = (fields: JsonObject, { field, carry: one }: { field: string; carry: Carry }): JsonObject =>
      holderPaths(type, field, fields).reduce<Json>(
        (all, path) => changedAt(all, path, (holder) => carriedHolder(holder, keyOfField(field), one)),
        fields,
      ) as JsonObject;
    return { ...entry, fields: (carriers.get(entry.type) ?? []).reduce(carry, entry.fields) };
  };
}

/** What becomes of a value; nothing where it cannot be carried over. */
type Carry = (value: Json) => Json | undefined;

/** How the values of a field take the shape that a difference gives them; nothing where they stay as they are. */
function carriedField(difference: Difference, after: Model): (FieldPlace & { readonly carry: Carry }) | undefined {
  if (difference.name !== 'field-reshaped' && difference.name !== 'field-changed') return undefined;
  const { type, field, was } = difference;
  const from = linkField({ type }, field, was);
  const to =
    difference.name === 'field-reshaped' ? linkField({ type }, field, difference.is) : newerField(difference, after);
  if (!from || !to) return undefined;
  const carry = difference.name === 'field-reshaped' ? reshaper(from, to, after) : rewriter(from, to);
  return carry && { type, field, carry };
}

function newerField({ type, field }: FieldPlace, after: Model): Field | undefined {
  const holder = after.types.get(type);
  return holder && fieldNamed(holder, field);
}

function reshaper(from: Field, to: Field, { context }: Model): Carry {
  // What texts mean is settled once all were seen; until then each is read as is usual.
  const read = textWeighing(from, to, context)?.read;
  const convert = converter(from, to, context, { read });
  // What counts as none is carried nowhere: a step leaves it as it stands.
  return (value) => (countedValue(from, value) === undefined ? value : convert(value).value);
}

function carriedHolder(holder: Json, key: string, carry: Carry): Json {
  const value = isObject(holder) ? own(holder, key) : undefined;
  if (!isObject(holder) || value === undefined) return holder;
  const become = carry(value);
  return become === undefined ? withoutKey(holder, key) : withKey(holder, key, become);
}

/** Gives an entry's type, fields and values the names they have after some renames. */
function viewThrough(before: ModelDoc, renames: readonly Rename[]): (entry: SeenEntry) => SeenEntry {
  const stages = renameStages(before, renames).map((stage) => ({
    ...stage,
    types: once(() => link(stage.before).types),
    valuesOf: stage.renames.map((rename) => valueRenamer(stage.before, rename)),
  }));
  return (entry) =>
    stages.reduce((seen, stage) => {
      const here = stage.renames.filter((rename) => !('type' in rename) || rename.type === seen.type);
      return here.length === 0 ? seen : renamedView(seen, stage.types().get(seen.type), here, stage.valuesOf);
    }, entry);
}

/** An entry after a field of its type was moved. */
const movedView = (entry: SeenEntry, way: MovingIn): SeenEntry => ({ ...entry, fields: moveValue(entry.fields, way) });

function renamedView(
  entry: SeenEntry,
  type: Type | undefined,
  level: readonly Rename[],
  valuesOf: readonly ReturnType<typeof valueRenamer>[],
): SeenEntry {
  if (!type) return entry;
  const [first] = level;
  // The name of a field stands in no value.
  const renamedValues = first?.what === 'field' ? [] : valuesOf.flatMap((values) => [...values(entry.fields, type)]);
  const fields = renamedValues.reduce<JsonObject>((all, [name, value]) => withKey(all, name, value), entry.fields);
  if (first?.what === 'type' && first.from === entry.type) return { ...entry, type: first.to, fields };
  if (first?.what !== 'field' || first.type !== entry.type) return { ...entry, fields };
  const names = new Map(level.map(({ from, to }) => [keyOfField(from), to]));
  const renamed = (holder: Json): Json =>
    isObject(holder)
      ? Object.fromEntries(Object.entries(holder).map(([key, value]) => [names.get(key) ?? key, value]))
      : holder;
  const paths = holderPaths(type, first.from, fields);
  return { ...entry, fields: paths.reduce<Json>((all, path) => changedAt(all, path, renamed), fields) as JsonObject };
}
