import { z } from 'zod';
import { commonOptions } from './field.ts';

/** A language code (BCP 47). */
export const LanguageCode = z
  .string()
  .regex(/^[a-z]{2,3}(?:-[A-Za-z0-9]{2,8})*$/u, 'a BCP 47 language code such as en or fr-CA');

/** The options of languages, by code. */
export type LanguageOptions = Readonly<
  Record<string, { readonly required?: true | 'published'; readonly fallback?: readonly string[] }>
>;

/** What can be stated about a language of the workspace beside its code. */
export const languageOptions = {
  required: commonOptions.required.describe(
    'Whether what a field requires is required in this language too: always, or only once published. The main language always is.',
  ),
  fallback: z
    .array(LanguageCode)
    .min(1)
    .optional()
    .describe('The languages to read if a value lacks this one, in order. Default: the main language.'),
};

/** The options of languages in their normal form. */
export const LanguageOptionsForm = z.record(z.string(), z.strictObject(languageOptions));
