import type { GuideLanguage } from '../../kinds/kindParts.ts';

/** What an editorial guide says beside the words of the model, in one language. */
export interface GuideWords {
  /** Its own language, in which kinds tell what their values are. */
  readonly spoken: GuideLanguage;
  /** The same with its region (BCP 47), by which numbers and lists are written. */
  readonly language: string;
  readonly title: (workspace: string) => string;
  readonly intro: (call: string) => string;
  /** The text before a list, or limits. */
  readonly colon: string;
  readonly beforePublishing: string;
  /** When a field has to be filled. */
  readonly always: string;
  readonly oncePublished: string;
  readonly whereItApplies: string;
  readonly forExample: string;
  readonly oneOf: string;
  readonly termOf: (taxonomy: string) => string;
  /** Behind the terms of a taxonomy that authors add to. */
  readonly orNew: string;
  /** What a reference points at: the types, as a list. */
  readonly refersTo: (types: string) => string;
  readonly together: string;
  /** The number of items of a list. */
  readonly anyNumber: string;
  readonly inLanguages: (languages: string) => string;
  /** Limits; the text already names the unit. */
  readonly from: (least: string) => string;
  readonly upTo: (most: string) => string;
  readonly between: (least: string, most: string) => string;
  readonly notBefore: (first: string) => string;
  readonly notAfter: (last: string) => string;
  /** @param isOne whether it is one alone, at most or at least. */
  readonly characters: (amount: string, isOne: boolean) => string;
  readonly decimalPlaces: (amount: string, isOne: boolean) => string;
  readonly across: (amount: string) => string;
  readonly down: (amount: string) => string;
  readonly withAlternative: string;
}
