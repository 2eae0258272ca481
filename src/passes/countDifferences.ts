import type { Comparison } from '../core/diff/compare.ts';
import type { ImpactOf } from '../core/diff/differences/define.ts';
import { ImpactCount } from '../core/diff/impact.ts';
import type { Assets } from '../core/entry/assets.ts';
import { statusOf } from '../core/entry/entry.ts';
import type { Model } from '../core/model/link.ts';
import { fieldsOf } from '../core/model/ownFields.ts';
import { eachEntry, type Pass } from './pass.ts';

/** Counts on entries what each difference of two models does to them. @param before the model that they obey. */
export function countPass(before: Model, comparison: Comparison, assets: Assets): Pass<ImpactOf> {
  const counter = new ImpactCount(before, comparison, assets);
  return eachEntry({
    see: ({ entry }) =>
      counter.see({
        type: entry.type,
        id: entry.id,
        status: statusOf(entry),
        fields: fieldsOf(entry, before.types.get(entry.type)),
        expressionSteps: entry.expressionSteps,
      }),
    finish: () => (difference) => counter.impactOf(difference),
  });
}
