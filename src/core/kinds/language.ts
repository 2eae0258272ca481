import type { Json } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';
import { defineKind } from './define.ts';
import type { Converted, ModelContext } from './kindParts.ts';

const ifLanguage = (value: Json, _options: unknown, { languages }: ModelContext): Converted => {
  if (languages.includes(String(value))) return { value };
  return { problem: 'it is no language of the workspace' };
};

/** One of the languages of the workspace, by its code (BCP 47). */
export const language = defineKind({
  name: 'language',
  about: 'One of the languages of the workspace, by its code: en, fr-CH.',
  guide: {
    en: 'A language',
    de: 'Eine Sprache',
    fr: 'Une langue',
    es: 'Un idioma',
    it: 'Una lingua',
    nl: 'Een taal',
  },
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
    text: ifLanguage,
    choice: ifLanguage,
  },
  stores: (_options, { languages }) => ({ is: 'one of', values: languages }),
  cel: 'string',
  usesLanguages: true,
});
