import type { LanguageOptions } from '../definition/language.ts';
import type { ModelDoc } from '../definition/model.ts';
import { compact, isObject, type Json, ownValue } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import type { Outcome } from '../plain/outcome.ts';
import { list } from '../plain/words.ts';
import type { Mistake } from './mistakes.ts';

/** The languages of a workspace in their normal form. */
export type Languages = Pick<ModelDoc, 'languages' | 'languageOptions'>;

type Listed =
  | string
  | {
      readonly language: string;
      readonly fallback?: readonly string[] | undefined;
      readonly required?: true | 'published' | undefined;
    };

/** Reads the list of languages as it is in a file, or names every mistake in it. */
export function readLanguages(listed: readonly Listed[]): Outcome<Languages, readonly Mistake[]> {
  const everything = listed.map((listed) => (typeof listed === 'string' ? { language: listed } : listed));
  const languages = everything.map(({ language }) => language);
  const mistakes = everything.flatMap(({ language, ...options }, index): readonly Mistake[] => {
    const path = ['languages', index];
    if (languages.indexOf(language) < index)
      return [{ path, says: `the language \`${language}\` stands twice`, mend: 'Name each language once.' }];

    const { fallback = [] }: { readonly fallback?: readonly string[] | undefined } = options;

    return fallback.flatMap((other, index) => {
      if (languages.includes(other) && other !== language) return [];
      return [
        {
          path: [...path, 'fallback', index],
          says: other === language ? `\`${language}\` falls back to itself` : `there is no language \`${other}\``,
          mend: didYouMean(other, languages) ?? `Name another of ${list(languages)}.`,
        },
      ];
    });
  });
  if (mistakes.length > 0) return { problem: mistakes };

  const stated = everything.flatMap(({ language, ...options }) => {
    const given = compact(options as Readonly<Record<string, Json | undefined>>);
    if (Object.keys(given).length > 0) return [[language, given] as const];
    return [];
  });
  const languageOptions = stated.length > 0 ? (Object.fromEntries(stated) as LanguageOptions) : undefined;

  return { value: compact({ languages, languageOptions }) };
}

/** The languages in which a value is requested, and when: always in the main one, else as the workspace says. */
export function askedLanguages({
  languages,
  languageOptions = {},
}: Languages): readonly { readonly language: string; readonly required: true | 'published' }[] {
  return languages.flatMap((language, index) => {
    const required = index === 0 ? true : ownValue(languageOptions, language)?.required;
    if (required === undefined) return [];
    return [{ language, required }];
  });
}

/** Whether a published entry has more demands on a field: a value, or more languages. */
export function isAskedOncePublished(
  {
    required,
    localized,
  }: { readonly required?: true | 'published' | undefined; readonly localized?: boolean | undefined },
  languages: Languages,
): boolean {
  if (required !== true) return required === 'published';
  return (
    localized === true && askedLanguages(languages).some((askedLanguage) => askedLanguage.required === 'published')
  );
}

/** The languages that are tried, in order, when something is read in one: the language, its fall-backs, the main one. */
export function readingOrder({ languages, languageOptions = {} }: Languages, language: string): readonly string[] {
  const fallback = ownValue(languageOptions, language)?.fallback ?? [];
  return [...new Set([language, ...fallback, ...languages.slice(0, 1)])];
}

/** What a value by language says to a reader of some languages, the first that has one. */
export function valueIn(
  value: Json | undefined,
  order: readonly string[],
): { readonly language: string; readonly value: Json } | undefined {
  if (!isObject(value)) return undefined;
  const language = order.find(
    (language) =>
      ownValue(value, language) !== undefined && ownValue(value, language) !== null && ownValue(value, language) !== '',
  );

  if (language === undefined) return undefined;
  return { language, value: value[language] ?? null };
}
