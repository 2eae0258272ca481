import type { ModelDoc } from '../../src/core/definition/model.ts';
import { compare } from '../../src/core/diff/compare.ts';
import { ImpactCount } from '../../src/core/diff/impact.ts';
import { type Entry, statusOf } from '../../src/core/entry/entry.ts';
import { draftSteps, migrationText } from '../../src/core/migration/draft.ts';
import { allShown, type Plan, showEntry, stagesThatSeeAll } from '../../src/core/migration/plan.ts';
import { type MigrationStep, readMigration } from '../../src/core/migration/read.ts';
import { link, type Model } from '../../src/core/model/link.ts';
import { fieldsOf } from '../../src/core/model/ownFields.ts';
import type { JsonObject } from '../../src/core/plain/json.ts';
import { usualLimits } from '../../src/core/plain/limits.ts';
import { hashModel } from '../../src/core/revision/canonical.ts';
import { readYaml } from '../../src/core/source/yaml.ts';

/** Shows entries to a count, in the names of the model that they obey. */
export function showTo(impact: ImpactCount, model: Model, entries: readonly Entry[]): void {
  for (const entry of entries)
    impact.see({
      type: entry.type,
      id: entry.id,
      status: statusOf(entry),
      fields: fieldsOf(entry, model.types.get(entry.type)),
    });
}

/** A migration as it would be drafted, written to a file, read back, and its questions left as they are. */
export const drafted = (before: ModelDoc, after: ModelDoc, entries: readonly Entry[]): readonly MigrationStep[] =>
  draftedWith(before, after, entries).open;

/**
 * A migration as it would be drafted, with its questions left as they are and with all of them answered by yes; and what each
 * difference does to the entries.
 */
export function draftedWith(before: ModelDoc, after: ModelDoc, entries: readonly Entry[]) {
  const comparison = compare(before, after);
  const linked = link(before);
  const impact = new ImpactCount(linked, comparison, new Map());
  showTo(impact, linked, entries);
  const steps = draftSteps(comparison, after, (difference) => impact.impactOf(difference));
  const head = {
    number: 1,
    about: 'a change',
    from: hashModel(before),
    to: hashModel(after),
    fromName: 'one',
    toName: 'another',
  };
  const reading = readYaml(migrationText(head, steps), usualLimits);
  if (!('value' in reading)) throw new Error(JSON.stringify(reading));
  const data = reading.value.data as JsonObject;
  const open = stepsIn(data);
  const withYes = (data.steps as readonly JsonObject[]).map((step) =>
    step.open === undefined ? step : { ...step, answer: 'yes' },
  );
  return {
    open,
    answered: stepsIn({ ...data, steps: withYes }),
    impacts: comparison.differences.map((difference) => ({ difference, impact: impact.impactOf(difference) })),
  };
}

function stepsIn(data: JsonObject): readonly MigrationStep[] {
  const read = readMigration(data);
  if (!('value' in read)) throw new Error(JSON.stringify(read));
  return read.value.steps;
}

/** Shows entries to the steps that have to know all of them. */
export function showAll(plan: Plan, entries: readonly Entry[]): void {
  for (const index of stagesThatSeeAll(plan)) {
    for (const entry of entries) showEntry(plan, index, entry);
    allShown(plan, index);
  }
}
