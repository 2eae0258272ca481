import type { FindingName } from '../definition/findingNames.ts';
import type { Json, Path } from '../plain/json.ts';
import type { EntryAddress } from './entry.ts';

/** How bad a finding is: an error breaks the model, a warning is compared with nobody yet. */
export type Severity = 'error' | 'warning';

/** The name of the finding that a message tells: `offset` of `offset:unwanted`. */
export const findingOf = (message: string): FindingName => message.split(':', 1)[0] as FindingName;

/** What a machine can do about a finding: another value in the place of the one that is wrong. */
export interface Fix {
  readonly set: Json;
}

/** Something that is wrong with an entry, and where inside it. Its words are made from its data: see `messages/`. */
export interface Finding {
  readonly finding: FindingName;
  /** The finding, with the way in which it is reported where there are several: `offset:unwanted`. */
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
  /** Where in the model document what asks for it is stated, where that is an expression. */
  readonly origin?: Path;
}
