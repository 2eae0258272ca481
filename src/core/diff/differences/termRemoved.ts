import type { TermDoc } from '../../definition/taxonomy.ts';
import { removeStep } from '../draftedStep.ts';
import { termCounter } from '../fieldValues.ts';
import { defineDifference } from './define.ts';

/** A term of a taxonomy is gone. */
export interface TermRemoved {
  readonly name: 'term-removed';
  readonly taxonomy: string;
  /** The terms above it and itself. */
  readonly path: readonly string[];
  readonly definition: TermDoc;
}

const addressOf = ({ taxonomy, path }: TermRemoved): string => `${taxonomy}:${path.join('/')}`;

export const termRemoved = defineDifference<TermRemoved>({
  name: 'term-removed',
  address: addressOf,
  say: () => 'term removed',
  rate: () => ({ entries: 'migrate', readers: 'notice' }),
  count: ({ taxonomy, path }, { between }) => termCounter(taxonomy, path.at(-1) ?? '', between),
  draft: {
    step: ([difference], { impactOf }) =>
      removeStep(addressOf(difference), impactOf(difference), {
        question: 'Which term do they get instead? Yes takes it away from them.',
        how: 'Name it (`use: another-term`), or add `answer: yes` to let them lose it.',
      }),
  },
});
