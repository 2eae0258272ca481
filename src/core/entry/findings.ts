import type { Json, Path } from '../plain/json.ts';
import type { EntryAddress } from './entry.ts';

/** How bad a finding is: an error breaks the model, a warning is held against nobody yet. */
type Severity = 'error' | 'warning';

/**
 * Every finding there can be, by its stable name, with what it means in one line. Names are part of the interface:
 * builds and editors match on them.
 */
export const findings = {
  'unread-file': 'A file in the content folder is read by no store.',
  'unreadable-file': 'The file could not be read as an entry.',
  'symbolic-link': 'A symbolic link stands where an entry should; links are never followed.',
  'unknown-type': 'The model has no such type.',
  'malformed-identifier': 'The identifier is not written as identifiers are.',
  'duplicate-entry': 'Two entries of one type have the same identifier.',
  'more-than-one': 'A type that has exactly one entry has several.',
  'missing-entry': 'A type that has exactly one entry has none yet.',
  'unknown-field': 'The type has no such field.',
  'body-not-expected': 'There is text below the front matter, and no field of the type takes it.',
  'unknown-status': 'The status is none of draft, published, archived.',
  'malformed-time': 'A time that every entry may have is not written as a time.',
  'window-reversed': 'The time in which an entry is public ends before it starts.',
  'required-missing': 'A required field has no value.',
  placeholder: 'A text still stands where a new entry waits to be filled in.',
  'language-expected': 'One value stands where one in each language belongs.',
  'unknown-language': 'A value is in a language that the workspace does not have.',
  'single-value-expected': 'A list stands where one value belongs.',
  'list-expected': 'One value stands where a list belongs.',
  'repeated-item': 'A list has an item twice, and the model says that they differ.',
  'too-few-items': 'A list has fewer items than the model asks for.',
  'too-many-items': 'A list has more items than the model allows.',
  'not-unique': 'Two entries of one type have the same value in a field that must be unique.',
  'wrong-shape': 'The value is not of the shape that the kind stores.',
  'line-break': 'A text of one line has a line break.',
  'too-long': 'A text has more characters than the model allows.',
  'too-short': 'A text has fewer characters than the model asks for.',
  pattern: 'A text does not match the pattern of its field.',
  'number-in-quotes': 'A number stands in quotes and so is a text.',
  'not-whole': 'A number is not whole, or too large to be exact.',
  'too-small': 'A number or a length of time is below the least allowed.',
  'too-large': 'A number or a length of time is above the most allowed.',
  'not-a-date': 'A text is no day of the calendar.',
  'too-early': 'A day or a time is before the earliest allowed.',
  'too-late': 'A day or a time is after the latest allowed.',
  'not-a-time': 'A text is no time of day.',
  'not-a-date-time': 'A text is no day with a time.',
  offset: 'A time says its distance to UTC where it should not, or does not where it should.',
  'not-a-duration': 'A value is no length of time.',
  'unit-not-allowed': 'A length of time is counted in a unit that the model does not allow.',
  'not-comparable': 'Whether a length of time keeps its limit depends on the calendar.',
  'too-many-places': 'A number has more decimal places than the model allows.',
  'not-an-email': 'A text is no e-mail address.',
  'not-a-web-address': 'A text is no address on the web, or starts with a scheme that is not allowed.',
  'host-not-allowed': 'A web address leads to a host that the model does not allow.',
  'not-a-colour': 'A text is no colour in hexadecimal.',
  'not-a-point': 'A value is no place on the earth.',
  'missing-asset': 'A file is named that does not lie below assets/.',
  'media-not-allowed': 'A file is of a media type that may not stand here.',
  'asset-too-large': 'A file is larger than the model allows.',
  'wrong-dimensions': 'A picture has more or fewer pixels than the model allows.',
  'alt-missing': 'A picture has no alternative text.',
  'mislabelled-asset': 'What is in a file is not what its name says.',
  'unused-asset': 'No entry uses a file below assets/.',
  'not-rich-text': 'A value is no tree of structured text.',
  'block-not-allowed': 'A block stands in a structured text that may not.',
  'mark-not-allowed': 'Something stands within a line of a structured text that may not.',
  'heading-level': 'A heading has a level that is not allowed.',
  'link-target': 'A link in a structured text leads where it may not.',
  'style-not-allowed': 'A part of a structured text has a style that the field does not have.',
  'embed-not-allowed': 'Something is embedded in a structured text that may not stand there.',
  'schema-broken': 'A JSON value breaks the JSON Schema of its field.',
  'not-a-choice': 'A value is none of the choices.',
  'malformed-slug': 'A slug is not written as slugs are.',
  'unknown-term': 'A taxonomy has no such term.',
  'term-not-allowed': 'A term of the taxonomy stands where only some of its terms may.',
  'retired-term': 'A term is used that the taxonomy has retired.',
  'malformed-reference': 'A reference names no entry.',
  'wrong-target': 'A reference points at an entry of a type that may not stand here.',
  'rule-broken': 'A rule across the fields of the entry does not hold.',
  'too-costly': 'An expression took more steps than the workspace allows, and was given up.',
  'not-applicable': 'A field has a value in an entry that its condition excludes.',
  'not-computed': 'A stored value is not what it comes to when it is computed.',
  'not-eligible': 'A reference points at an entry that does not meet the condition of its field.',
  'too-many-pointing': 'More entries point at one target by a field than the model allows.',
  'too-few-pointing': 'Fewer entries point at an entry by a field than the model asks for.',
  'dangling-reference': 'A reference points at an entry that does not exist.',
  'target-not-published': 'A published entry points at one that readers cannot see.',
} as const satisfies Readonly<Record<string, string>>;

export type FindingName = keyof typeof findings;

/** The name of the finding that a message tells: `offset` of `offset:unwanted`. */
export const findingOf = (message: string): FindingName => message.split(':', 1)[0] as FindingName;

/** What a machine can do about a finding: another value in the place of the one that is wrong. */
export interface Fix {
  readonly set: Json;
}

/** Something that is wrong with an entry, and where inside it. Its words are made from its data: see `messages/`. */
export interface Finding {
  readonly finding: FindingName;
  /** The finding, with the way in which it is told where there are several: `offset:unwanted`. */
  readonly message: string;
  readonly data: object;
  readonly severity: Severity;
  readonly entry: EntryAddress;
  /** The path of the value inside the entry. */
  readonly path: Path;
  readonly value?: Json;
  readonly limit?: Json;
  readonly fix?: Fix;
  /** The address of the field that asks for it, where that is a field of another type. */
  readonly by?: string;
  /** Where in the model document what asks for it is said, where that is an expression. */
  readonly origin?: Path;
}
