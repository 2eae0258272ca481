import type { ModelDoc } from '../definition/model.ts';
import { compare } from '../diff/compare.ts';
import { link } from '../model/link.ts';
import type { JsonObject } from '../plain/json.ts';
import { draftSteps } from './draft.ts';
import { firstDivergence } from './plan.ts';
import { type MigrationStep, readStep } from './read.ts';
import type { KnownPlaces } from './step.ts';

/**
 * The steps that take a migration back: the inverse of each, the last first. Where they do not lead to exactly the older
 * model, since what a step lost of it is not said again by its inverse, the rest is restated after them.
 * @param from the model that the steps start from; they were planned over it before.
 */
export function inverseSteps(
  steps: readonly MigrationStep[],
  from: ModelDoc,
  knownPlaces: KnownPlaces,
): readonly MigrationStep[] {
  const models = [link(from).definition];
  for (const { kind, data } of steps) models.push(link(kind.model(data, models.at(-1) ?? from)).definition);
  const reached = models.at(-1) ?? from;
  const back = steps.flatMap(({ kind, data }, index) => {
    const [before = from, after = from] = models.slice(index, index + 2);
    return [{ index, steps: kind.inverse(data, { before, after, knownNames: knownPlaces }) }];
  });
  const inverseParts: JsonObject[] = back.toReversed().flatMap((part) => part.steps);
  const read = numbered(inverseParts);
  const modelReached = read.reduce((model, { kind, data }) => kind.model(data, model), reached);
  if (!firstDivergence(modelReached, from)) return read;

  // Equal names are the same part: no rename is guessed any more.
  const rest = draftSteps(
    compare(modelReached, from, { renames: [], apart: everyAddress(modelReached) }),
    from,
    () => undefined,
  );

  return numbered([...inverseParts, ...rest.map(({ data }) => data)]);
}

const numbered = (steps: readonly JsonObject[]): readonly MigrationStep[] =>
  steps.map((data, index) => {
    const read = readStep(data, ['steps', index]);
    if ('value' in read) return read.value;
    throw new Error(`the inverse of a step is none: ${JSON.stringify(data)}: ${read.problem[0]?.says}`);
  });

/** Whatever could be treated as something else. */
function everyAddress({ types, taxonomies }: ModelDoc): ReadonlySet<string> {
  const fields = Object.entries(types).flatMap(([type, { fields: fieldDefinitions }]) => [
    type,
    ...Object.keys(fieldDefinitions).map((field) => `${type}.${field}`),
  ]);
  const terms = Object.entries(taxonomies).flatMap(([name, taxonomy]) => [
    `${name}:`,
    ...Object.keys(taxonomy.terms).map((term) => `${name}:${term}`),
  ]);

  return new Set([...fields, ...terms]);
}
