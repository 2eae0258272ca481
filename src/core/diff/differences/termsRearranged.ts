import { losesTerms, lostTermsCounter } from '../acceptedTerms.ts';
import { defineDifference } from './define.ts';

/** Terms are in another order or under other terms. Steps for that are drafted once all others are known. */
export interface TermsRearranged {
  readonly name: 'terms-rearranged';
  readonly taxonomy: string;
}

export const termsRearranged = defineDifference<TermsRearranged>({
  name: 'terms-rearranged',
  address: ({ taxonomy }) => `${taxonomy}:`,
  say: () => 'terms stand in another order or under other terms',
  rate: ({ taxonomy }, models) => ({ entries: losesTerms(taxonomy, models) ? 'migrate' : 'valid', readers: 'notice' }),
  count: ({ taxonomy }, models) => (losesTerms(taxonomy, models) ? lostTermsCounter(taxonomy, models) : undefined),
});
