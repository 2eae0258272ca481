import type { BuiltInKeys, FactKeys } from '../definition/builtIn.ts';
import type { LearntKit } from './kits.ts';
import type { FieldAnswers, LearntField } from './value.ts';

/** A type as it was learnt. */
export interface LearntType {
  readonly name: string;
  readonly entries: number;
  readonly titled: string | undefined;
  readonly fields: readonly LearntField[];
}

/** A taxonomy made from the texts of fields. */
export interface LearntTaxonomy {
  readonly name: string;
  readonly terms: readonly string[];
  /** The fields that its terms are in. */
  readonly fields: readonly string[];
}

/** A model as it was learnt from entries. */
export interface LearntModel {
  readonly languages: readonly string[];
  /** What speaks for these languages, as a sentence. */
  readonly languagesBecause: string;
  readonly types: readonly LearntType[];
  readonly taxonomies: readonly LearntTaxonomy[];
  /** Groups of fields that recur in types. */
  readonly kits: readonly LearntKit[];
  /** Under which keys stands what every entry has of itself, where these are others; `false` where that is a field here. */
  readonly builtIn: BuiltInKeys;
  /** Names in the data that no type can be called. */
  readonly unfit: readonly string[];
  /** What a person says of fields and cannot be. */
  readonly refused: readonly Refused[];
}

/** Facts beside the entries. */
export interface LearningContext {
  /** Under which keys the entries have what every entry has. */
  readonly factKeys: FactKeys;
  /** Whether a text is the name of a file that entries can show. */
  readonly isAsset: (text: string) => boolean;
  /** What a person says of fields, by their addresses. */
  readonly answers?: ReadonlyMap<string, FieldAnswers>;
  /** What fields are called in the entries, by their names, where no field can be called so. */
  readonly keys?: ReadonlyMap<string, string>;
}

/** What a person says of a field and cannot be. */
export interface Refused {
  readonly address: string;
  readonly kind: string;
  /** The kinds that it can be of. */
  readonly can: readonly string[];
}
