import type { Entry, EntryAddress } from '../../entry/entry.ts';
import type { JsonObject } from '../../plain/json.ts';
import type { Exported } from '../formats/define.ts';

/** A piece of the written text: files grow by pieces. */
export interface Piece {
  /** The file that it belongs to, by the type and the entry whose it is; a whole export in one file says neither. */
  readonly entry?: { readonly type: string; readonly id?: string };
  /** What the name of the file ends in. */
  readonly ending: string;
  readonly text: string;
}

/** An entry on its way out. */
export interface OutEntry extends EntryAddress {
  /** Its values by key, with what every entry has but its type and its identifier; the text of a Markdown file by its field. */
  readonly values: JsonObject;
  /** The entry as it is kept. */
  readonly stored: Entry;
}

/** Reports a loss by its kind, the same for all entries that have it. */
export type ReportLoss = (loss: string) => void;

/** Writes entries one after the other. */
export interface EntryWriting {
  readonly begin?: () => Piece;
  /** @param warn takes what goes with the entry, and does something in programs that read it. */
  readonly put: (entry: OutEntry, lost: ReportLoss, warn: ReportLoss) => readonly Piece[];
  /** The part after the last one. */
  readonly finish?: () => readonly Piece[];
}

/** A form in which entries go out. */
export interface EntryFormat {
  readonly name: string;
  readonly about: string;
  /** Whether it is a folder of files: always, or where there are several types; else one file. */
  readonly isFolder: (exported: Exported) => boolean;
  readonly writing: (exported: Exported) => EntryWriting;
}
