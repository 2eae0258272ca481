import type { JsonObject } from '../plain/json.ts';
import type { LanguageOptions } from './language.ts';
import type { Shared } from './shared.ts';
import type { TaxonomyDoc } from './taxonomy.ts';
import type { TypeDoc } from './type.ts';

/**
 * The model in its normal form: plain data in which everything is stated in one way and nothing that goes without saying
 * is stated. Hashing, comparing and migrating work on this; {@link link} makes it into something to look things up in.
 */
export interface ModelDoc {
  /** The languages of the workspace (BCP 47), the main one first. */
  readonly languages: readonly string[];
  /** What goes for each of them, where anything is stated. */
  readonly languageOptions?: LanguageOptions;
  /** Each type whole: parts from kits, base types and shared definitions are written out. */
  readonly types: Readonly<Record<string, TypeDoc>>;
  readonly taxonomies: Readonly<Record<string, TaxonomyDoc>>;
  /** Shared definitions, and which types use it. Absent where nothing is shared. */
  readonly shared?: Shared;
}

/** A model document as JSON: it consists of JSON values only. */
export const asJson = (definition: object): JsonObject => definition as JsonObject;
