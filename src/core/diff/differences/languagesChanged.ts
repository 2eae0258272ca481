import { contextCounter, isLocalized } from '../contextCounter.ts';
import type { Rating } from '../rating.ts';
import { defineDifference } from './define.ts';
import { languageKey, languageStep } from './languageStep.ts';

/** The workspace has other languages, or another one is the main one. */
export interface LanguagesChanged {
  readonly name: 'languages-changed';
  readonly before: readonly string[];
  readonly after: readonly string[];
}

export const languagesChanged = defineDifference<LanguagesChanged>({
  name: 'languages-changed',
  address: () => 'languages',
  say: ({ before, after }, arrow) => `${before.join(', ')} ${arrow} ${after.join(', ')}`,
  rate,
  count: (_difference, { between, after }) => contextCounter(between, after, isLocalized),
  draft: { key: languageKey, step: languageStep },
});

/** A language that is gone takes its values with it; another main language has to be there first. */
function rate({ before, after }: LanguagesChanged): Rating {
  if (before.some((language) => !after.includes(language))) return { entries: 'lose', readers: 'break' };
  if (before[0] === after[0]) return { entries: 'valid', readers: 'notice' };
  return { entries: 'migrate', readers: 'break' };
}
