import { asJson } from '../../definition/model.ts';
import type { TypeDoc } from '../../definition/type.ts';
import type { Model } from '../../model/link.ts';
import { fieldsWithin } from '../../model/nestedFields.ts';
import { pointingCounter } from '../crossEntryCounter.ts';
import { askForSteps } from '../draftedStep.ts';
import { defineDifference } from './define.ts';

/** There is a new type. */
export interface TypeAdded {
  readonly name: 'type-added';
  readonly type: string;
  readonly definition: TypeDoc;
}

/** The addresses of its references that have to lead to their targets, anyone who they are. */
const asksPointing = ({ type }: TypeAdded, after: Model): readonly string[] =>
  fieldsWithin(after.types.get(type)?.fields ?? new Map())
    .filter(
      ({ kind, options, address }) => address.startsWith(`${type}.`) && (kind.pointsAt(options).inverseMin ?? 0) > 0,
    )
    .map(({ address }) => address);

export const typeAdded = defineDifference<TypeAdded>({
  name: 'type-added',
  address: ({ type }) => type,
  say: () => 'new type',
  rate: (difference, { after }) => ({
    entries: asksPointing(difference, after).length > 0 ? 'migrate' : 'valid',
    readers: 'notice',
  }),
  count: (difference, models) => {
    const by = asksPointing(difference, models.after);
    if (by.length > 0) return pointingCounter(models, ...by);
    return undefined;
  },
  draft: {
    step: ([difference], { impactOf }) => {
      const data = { add: difference.type, type: asJson(difference.definition) };
      const impact = impactOf(difference);
      if (!impact || impact.hits === 0) return { data, why: 'New type; no entry changes.' };
      return { data, why: `New type; ${impact.says}.`, open: askForSteps };
    },
  },
});
