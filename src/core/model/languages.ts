import type { LanguageOptions } from '../definition/language.ts';
import type { ModelDoc } from '../definition/model.ts';
import { compact, isObject, type Json, own } from '../plain/json.ts';
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

/** Reads the list of languages as it stands in a file, or names every mistake in it. */
export function readLanguages(listed: readonly Listed[]): Outcome<Languages, readonly Mistake[]> {
  const all = listed.map((one) => (typeof one === 'string' ? { language: one } : one));
  const languages = all.map(({ language }) => language);
  const mistakes = all.flatMap(({ language, ...options }, index): readonly Mistake[] => {
    const path = ['languages', index];
    if (languages.indexOf(language) < index)
      return [{ path, says: `the language \`${language}\` stands twice`, mend: 'Name each language once.' }];
    const { fallback = [] }: { readonly fallback?: readonly string[] | undefined } = options;
    return fallback.flatMap((other, at) => {
      if (languages.includes(other) && other !== language) return [];
      return [
        {
          path: [...path, 'fallback', at],
          says: other === language ? `\`${language}\` falls back to itself` : `there is no language \`${other}\``,
          mend: didYouMean(other, languages) ?? `Name another of ${list(languages)}.`,
        },
      ];
    });
  });
  if (mistakes.length > 0) return { problem: mistakes };
  const said = all.flatMap(({ language, ...options }) => {
    const kept = compact(options as Readonly<Record<string, Json | undefined>>);
    return Object.keys(kept).length > 0 ? [[language, kept] as const] : [];
  });
  const languageOptions = said.length > 0 ? (Object.fromEntries(said) as LanguageOptions) : undefined;
  return { value: compact({ languages, languageOptions }) };
}

/** The languages in which a value is asked for, and when: always in the main one, else as the workspace says. */
export function askedLanguages({
  languages,
  languageOptions = {},
}: Languages): readonly { readonly language: string; readonly required: true | 'published' }[] {
  return languages.flatMap((language, index) => {
    const required = index === 0 ? true : own(languageOptions, language)?.required;
    return required === undefined ? [] : [{ language, required }];
  });
}

/** Whether more is asked of a field once its entry is published: that it is there, or is so in more languages. */
export function isAskedOncePublished(
  {
    required,
    localized,
  }: { readonly required?: true | 'published' | undefined; readonly localized?: boolean | undefined },
  languages: Languages,
): boolean {
  if (required !== true) return required === 'published';
  return localized === true && askedLanguages(languages).some((one) => one.required === 'published');
}

/** The languages that are tried, in order, when something is read in one: the language, its fall-backs, the main one. */
export function readingOrder({ languages, languageOptions = {} }: Languages, language: string): readonly string[] {
  const fallback = own(languageOptions, language)?.fallback ?? [];
  return [...new Set([language, ...fallback, ...languages.slice(0, 1)])];
}

/** What a value by language says to a reader of some languages, the first that has one. */
export function valueIn(
  value: Json | undefined,
  order: readonly string[],
): { readonly language: string; readonly value: Json } | undefined {
  if (!isObject(value)) return undefined;
  const language = order.find(
    (one) => own(value, one) !== undefined && own(value, one) !== null && own(value, one) !== '',
  );
  return language === undefined ? undefined : { language, value: value[language] ?? null };
}
