import { detailsOfOption, type OptionDifference, sayOption } from '../optionText.ts';
import { changeOptions } from './changeOptions.ts';
import { defineDifference } from './define.ts';

/** Something else is stated about a term. */
export interface TermChanged extends OptionDifference {
  readonly name: 'term-changed';
  readonly taxonomy: string;
  /** The terms above it and itself. */
  readonly path: readonly string[];
}

const addressOf = ({ taxonomy, path }: TermChanged): string => `${taxonomy}:${path.join('/')}`;

export const termChanged = defineDifference<TermChanged>({
  name: 'term-changed',
  address: addressOf,
  say: sayOption,
  rate: ({ option }) => ({
    entries: 'valid',
    readers: option === 'label' || option === 'retired' ? 'notice' : 'unaffected',
  }),
  details: detailsOfOption,
  draft: { step: (group, context) => changeOptions(addressOf(group[0]), group, context) },
});
