import { rate } from '../../kinds/compatibility.ts';
import { compatibilityOf } from '../../model/optionCompatibility.ts';
import { contextCounter, isLocalized } from '../contextCounter.ts';
import { detailsOfOption, type OptionDifference, sayOption } from '../optionText.ts';
import { defineDifference } from './define.ts';
import { languageKey, languageStep } from './languageStep.ts';

/** Something else goes for a language. */
export interface LanguageChanged extends OptionDifference {
  readonly name: 'language-changed';
  readonly language: string;
}

export const languageChanged = defineDifference<LanguageChanged>({
  name: 'language-changed',
  address: () => 'languages',
  say: (difference, arrow) => `${difference.language}: ${sayOption(difference, arrow)}`,
  rate: ({ option, before, after }) =>
    option === 'required'
      ? rate(compatibilityOf('text', 'required'), before, after)
      : { entries: 'valid', readers: 'notice' },
  count: ({ option }, { between, after }) =>
    option === 'required' ? contextCounter(between, after, isLocalized) : undefined,
  details: detailsOfOption,
  draft: { key: languageKey, step: languageStep },
});
