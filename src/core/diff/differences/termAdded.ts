import { asJson } from '../../definition/model.ts';
import type { TermDoc } from '../../definition/taxonomy.ts';
import { losesTerms, lostTermsCounter } from '../acceptedTerms.ts';
import { askForSteps } from '../draftedStep.ts';
import { type ComparedModels, defineDifference } from './define.ts';

/** A taxonomy has a new term. */
export interface TermAdded {
  readonly name: 'term-added';
  readonly taxonomy: string;
  /** The terms above it and itself. */
  readonly path: readonly string[];
  readonly definition: TermDoc;
}

const addressOf = ({ taxonomy, path }: TermAdded): string => `${taxonomy}:${path.join('/')}`;

/** Whether it stands below a term that had none below it, and that fields take for that alone. */
const takesLeaf = ({ taxonomy, path }: TermAdded, models: ComparedModels): boolean => {
  const above = path.at(-2);
  return above !== undefined && losesTerms(taxonomy, models, above);
};

export const termAdded = defineDifference<TermAdded>({
  name: 'term-added',
  address: addressOf,
  say: () => 'new term',
  rate: (difference, models) => ({ entries: takesLeaf(difference, models) ? 'migrate' : 'valid', readers: 'notice' }),
  count: (difference, models) =>
    takesLeaf(difference, models) ? lostTermsCounter(difference.taxonomy, models) : undefined,
  draft: {
    // A term that is added below another new one comes after it.
    order: (a, b) => a.path.length - b.path.length,
    step: ([difference], { impactOf }) => {
      const data = { add: addressOf(difference), term: asJson(difference.definition) };
      const impact = impactOf(difference);
      if (!impact || impact.hits === 0) return { data, why: 'New term; no entry changes.' };
      return { data, why: `New term; ${impact.says}.`, open: askForSteps };
    },
  },
});
