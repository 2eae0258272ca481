import { nearest } from '../plain/nearest.ts';
import { defineKind } from './define.ts';

/** One of the languages of the workspace, by its code (BCP 47). */
export const language = defineKind({
  name: 'language',
  about: 'One of the languages of the workspace, by its code: en, fr-CH.',
  options: {},
  example: { options: {}, value: 'en' },
  check:
    (_options, { languages }) =>
    (value, report) => {
      if (typeof value === 'string' && languages.includes(value)) return;
      report(
        'not-a-choice',
        { choices: languages, near: nearest(String(value), languages) },
        { limit: [...languages] },
      );
    },
  changed: {},
  from: {
    text: (value, _options, { languages }) =>
      languages.includes(String(value)) ? { value } : { lost: 'it is no language of the workspace' },
    choice: (value, _options, { languages }) =>
      languages.includes(String(value)) ? { value } : { lost: 'it is no language of the workspace' },
  },
  stores: (_options, { languages }) => ({ is: 'one of', values: languages }),
  cel: 'string',
  usesLanguages: true,
});
