import type { JsonObject } from '../plain/json.ts';

/** The field that texts are read for. */
export interface Target {
  /** The name of its kind: `decimal`. */
  readonly kind: string;
  readonly options: JsonObject;
  /** The languages of the workspace (BCP 47), the main one first: names of months and units are looked up in these. */
  readonly languages: readonly string[];
}

/** Reads a plain number with the decimal marks in force; `undefined` where a text is none. */
export type ReadNumber = (text: string) => number | undefined;

/** Reads one text, without blanks around it, as a value of the target's kind; `undefined` where it is not written so. */
export type ReadText = (text: string) => string | number | boolean | undefined;

/** A choice between styles that may read the same text as different values. */
export interface Choice {
  /** The style to take where the texts prove none. */
  readonly usual: (target: Target) => string;
}

/** One way in which people write values. */
export interface WritingStyle {
  /** Its name in a migration: `day-first`. */
  readonly name: string;
  /** The texts that it reads, as a noun with an example: `days with the day before the month (8.10.2014)`. */
  readonly about: string;
  /** How a text is written, behind “are written”: `day before month`. */
  readonly says: string;
  /** The choice that it is one answer to, by name: of two such styles a text may be read by either. */
  readonly choice?: string;
  /** The question that a person has to answer even where each text has one reading. */
  readonly asks?: (target: Target) => string;
  /** The kinds of which values are written so. */
  readonly kinds: readonly string[];
  /** Prepares the reading of texts for a field of one of these kinds; `undefined` where its options rule that out. */
  readonly reader: (target: Target, readNumber: ReadNumber) => ReadText | undefined;
}

/** Prepares the reading of texts for a field by a style; `undefined` where its values are not written so. */
export function readerOf(style: WritingStyle, target: Target, readNumber: ReadNumber): ReadText | undefined {
  if (!style.kinds.includes(target.kind)) return undefined;
  return style.reader(target, readNumber);
}
