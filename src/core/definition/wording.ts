import { z } from 'zod';
import { isObject, type Json } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { list } from '../plain/words.ts';

/** Something that is stated to people: one text, or one in each language (BCP 47) as `{ en: …, fr: … }`. */
export type Wording = string | Readonly<Record<string, string>>;

/** A text that is not empty. */
export const Sentence = z.string().min(1);
/** A text for people: one, or one per language. */
export const Wording = z.union([Sentence, z.record(z.string(), Sentence)]);

/** The wording in the first of some languages that has one. */
export function wordsIn(wording: Wording, languages: readonly string[]): string;
export function wordsIn(wording: Wording | undefined, languages: readonly string[]): string | undefined;
export function wordsIn(wording: Wording | undefined, languages: readonly string[]): string | undefined {
  if (wording === undefined || typeof wording === 'string') return wording;
  const language = languages.find((language) => Object.hasOwn(wording, language));
  if (language === undefined) return Object.values(wording)[0];
  return wording[language];
}

interface Unsayable {
  readonly says: string;
  readonly mend: string;
}

/** A text in the form of a language tag (BCP 47), whether or not the language exists. */
const languageTag = /^[a-z]{2,8}(?:[-_][a-z0-9]{1,8})*$/iu;

/** That something is stated in a language that does not exist. */
export function unknownLanguage(wording: Json | undefined, languages: readonly string[]): Unsayable | undefined {
  const unknown = Object.keys(isObject(wording) ? wording : {}).find((language) => !languages.includes(language));
  if (unknown === undefined) return undefined;
  if (!languageTag.test(unknown))
    return {
      says: `the text is read as the key \`${unknown}\` with a value, because of its colon`,
      mend: 'Put the whole text in quotes.',
    };
  return {
    says: `\`${unknown}\` is no language of the workspace`,
    mend: didYouMean(unknown, languages) ?? `Its languages are ${list(languages)} (lumbrik.yaml).`,
  };
}

/** Why something cannot be stated to everybody: a language that does not exist, or the main one is left out. */
export function wordingMistake(wording: Json | undefined, languages: readonly string[]): Unsayable | undefined {
  if (!isObject(wording)) return undefined;

  const unknown = unknownLanguage(wording, languages);
  if (unknown) return unknown;

  const [main = 'en'] = languages;
  if (Object.hasOwn(wording, main)) return undefined;
  return { says: `nothing is said in ${main}, the main language`, mend: `Add \`${main}: …\`.` };
}
