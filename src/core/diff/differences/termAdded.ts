import { asJson } from '../../definition/model.ts';
import type { TermDoc } from '../../definition/taxonomy.ts';
import { defineDifference } from './define.ts';

/** A taxonomy has a new term. */
export interface TermAdded {
  readonly name: 'term-added';
  readonly taxonomy: string;
  /** The terms above it and itself. */
  readonly path: readonly string[];
  readonly definition: TermDoc;
}

const addressOf = ({ taxonomy, path }: TermAdded): string => `${taxonomy}:${path.join('/')}`;

export const termAdded = defineDifference<TermAdded>({
  name: 'term-added',
  address: addressOf,
  say: () => 'new term',
  rate: () => ({ entries: 'valid', readers: 'notice' }),
  draft: {
    // A term that is added below another new one comes after it.
    order: (a, b) => a.path.length - b.path.length,
    step: ([one]) => ({
      data: { add: addressOf(one), term: asJson(one.definition) },
      why: 'New term; no entry changes.',
    }),
  },
});
