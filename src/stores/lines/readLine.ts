import type { Outcome } from '../../core/plain/outcome.ts';
import type { ManyInFileSettings } from '../manyInFile.ts';
import type { Place, Problem } from '../store.ts';
import type { EntryLine } from './entryLine.ts';
import type { Line } from './lineReader.ts';

/** Files in which each line is an entry, as JSON (NDJSON), plain or compressed with gzip (RFC 1952). */
export type LinesSettings = ManyInFileSettings;

/** A line that was read, with its content. */
export interface ReadLine {
  readonly place: Place & { readonly offset: number; readonly line: number };
  readonly line: Line;
  readonly read: Outcome<EntryLine, Problem>;
}
