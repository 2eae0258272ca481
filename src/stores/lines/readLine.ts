import type { KeyNames } from '../keys.ts';
import type { Place, Problem } from '../store.ts';
import type { EntryLine } from './entryLine.ts';
import type { Line } from './lineReader.ts';

/** Files in which each line is an entry, as JSON (NDJSON), plain or compressed with gzip (RFC 1952). */
export interface LinesSettings {
  readonly name: string;
  /** Their paths below the workspace. */
  readonly files: readonly string[];
  /** The type of entries that do not say their own. */
  readonly type: string | undefined;
  readonly keys: KeyNames;
}

/** A line that was read, with what it says. */
export interface ReadLine {
  readonly place: Place & { readonly offset: number; readonly line: number };
  readonly line: Line;
  readonly read: EntryLine | Problem;
}
