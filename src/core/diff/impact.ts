import { keyOfField } from '../definition/fieldName.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { Rename } from '../definition/rename.ts';
import { link, type Model, type Type } from '../model/link.ts';
import { holderPaths } from '../model/nestedFields.ts';
import { renameInModel, valueRenamer } from '../model/rename.ts';
import { changedAt, isObject, type Json, type JsonObject, renameKey, withKey } from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';
import type { Comparison } from './compare.ts';
import type { Counter, Impact, SeenEntry } from './counter.ts';
import { counterOf, type Difference, rateDifference } from './difference.ts';
import type { Compared, Named } from './differences/define.ts';
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

  /** @param before the older model, which the entries obey. */
  constructor(before: Model, comparison: Comparison) {
    const { differences, renames } = comparison;
    const models = comparedModels(comparison);
    this.#view = viewThrough(
      before.definition,
      renames.map(({ rename }) => rename),
    );
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

/** Gives an entry's type, fields and values the names they have after some renames. */
function viewThrough(before: ModelDoc, renames: readonly Rename[]): (entry: SeenEntry) => SeenEntry {
  let model = before;
  const stages = renames.map((rename) => {
    const { types } = link(model);
    const valuesOf = valueRenamer(model, rename);
    model = renameInModel(model, rename);
    return { rename, types, valuesOf };
  });
  return (entry) =>
    stages.reduce(
      (seen, { rename, types, valuesOf }) => renamedView(seen, types.get(seen.type), rename, valuesOf),
      entry,
    );
}

function renamedView(
  entry: SeenEntry,
  type: Type | undefined,
  rename: Rename,
  valuesOf: ReturnType<typeof valueRenamer>,
): SeenEntry {
  if (!type) return entry;
  const fields = [...valuesOf(entry.fields, type)].reduce<JsonObject>(
    (all, [name, value]) => withKey(all, name, value),
    entry.fields,
  );
  if (rename.what === 'type' && rename.from === entry.type) return { ...entry, type: rename.to, fields };
  if (rename.what !== 'field' || rename.type !== entry.type) return { ...entry, fields };
  const renamed = (holder: Json): Json =>
    isObject(holder) ? renameKey(holder, keyOfField(rename.from), rename.to) : holder;
  const paths = holderPaths(type, rename.from, fields);
  return { ...entry, fields: paths.reduce<Json>((all, path) => changedAt(all, path, renamed), fields) as JsonObject };
}
