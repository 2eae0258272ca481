import { allowed, byValue, type Compatibility, presentation, rate } from '../../kinds/compatibility.ts';
import { ownValue } from '../../plain/json.ts';
import { contextCounter } from '../contextCounter.ts';
import { detailsOfOption, type OptionDifference, sayOption } from '../optionText.ts';
import type { Rating } from '../rating.ts';
import { changeOptions } from './changeOptions.ts';
import { defineDifference } from './define.ts';

/** An option of a taxonomy is another one. */
export interface TaxonomyChanged extends OptionDifference {
  readonly name: 'taxonomy-changed';
  readonly taxonomy: string;
}

export const taxonomyChanged = defineDifference<TaxonomyChanged>({
  name: 'taxonomy-changed',
  address: ({ taxonomy }) => `${taxonomy}:`,
  say: sayOption,
  rate: rateOption,
  count: (difference, { between, after }) =>
    rateOption(difference).entries === 'valid'
      ? undefined
      : contextCounter(between, after, ({ kind, options }) => kind.taxonomy(options) === difference.taxonomy),
  details: detailsOfOption,
  draft: { step: (group, context) => changeOptions(`${group[0].taxonomy}:`, group, context) },
});

/** What else may be used hurts entries where it becomes less; another address hurts readers. */
const compatibility: Readonly<Record<string, Compatibility>> = {
  open: byValue((after) => (after === true ? 'wider' : 'narrower')),
  borrows: allowed(String),
  address: { direction: () => 'presentation', readers: () => 'break' },
};

function rateOption({ option, before, after }: OptionDifference): Rating {
  return rate(ownValue(compatibility, option) ?? presentation, before, after);
}
