import type { FactKeys } from '../core/definition/builtIn.ts';
import type { StoreOptions } from '../core/definition/workspace.ts';
import type { Entry, EntryAddress } from '../core/entry/entry.ts';
import type { Operation } from '../core/migration/operation.ts';
import type { CellKinds } from '../core/model/cells.ts';
import type { JsonObject, Path } from '../core/plain/json.ts';
import type { Limits } from '../core/plain/limits.ts';
import type { Outcome } from '../core/plain/outcome.ts';
import type { Position, Span } from '../core/source/yaml.ts';

/**
 * Where entries live. Every store has this interface and passes the same contract test. What crosses it is plain data,
 * so that it can cross into another thread as well; nothing in it assumes that entries fit into memory, are files, or
 * stay where they were. A store is handed back only its own parts.
 */
export interface EntryStore<P extends Part = Part> {
  readonly can: Abilities;
  /** What another thread opens the same store by; absent where none can. */
  readonly home?: StoreHome;
  /**
   * The stored data, cut into parts that are read one after another or side by side.
   * @param atMost how many parts are wanted; there may be fewer.
   */
  parts(atMost: number): Promise<readonly P[]>;
  /**
   * A text that stays the same while a part does, made without reading its entries; `undefined` where it may change
   * unseen. Of a part that only moved in its file it is the same.
   */
  fingerprint?(part: P): string | undefined;
  /** Every entry of a part in a stable order, one at a time, each as it is at that moment. */
  read(part: P): AsyncIterable<Item> | Iterable<Item>;
  /**
   * One entry by its address.
   * @param near where it was met before, if it was: looked at first.
   */
  readonly get: (address: EntryAddress, near?: Place) => Promise<Stored | undefined>;
  /**
   * Where a value stands; worked out only when it is requested.
   * @param body the field that is the text below the front matter, if the type has one.
   */
  readonly locate: (place: Place, path: Path, body?: string) => Promise<Span>;
  /** Works a change out and keeps nothing of it. @throws {Trouble} where it cannot be made. */
  readonly attempt: (change: EntryChange) => Promise<void>;
  /**
   * What a file that holds one entry would be with other bytes; `undefined` where the store keeps no entry alone in it.
   * So what was, and what somebody made of it since, can be looked at beside the existing content.
   */
  readonly wholeFile: (file: string, bytes: Buffer) => Outcome<FileOfEntry, Problem> | undefined;
  /** The same of a file in which each line is an entry. */
  readonly linesOf: (file: string, bytes: Buffer) => FileOfLines | undefined;
  /** Begins to change entries. @param sink takes the outcome for files, of a store that keeps entries in files. */
  readonly begin: (sink: FileSink) => Transaction;
}

/** Where the entries of a workspace are: plain data. */
export interface StoreHome {
  readonly root: string;
  readonly content: readonly StoreOptions[];
  /** Under which keys entries have what every entry has; the usual ones where nothing is stated. */
  readonly factKeys?: FactKeys;
  /** What a file may cost; the usual limits where nothing is stated. */
  readonly limits?: Limits;
  /** What the cells of tables stand for, where there are tables. */
  readonly cells?: CellKinds | undefined;
}

/** What a store can do beyond reading and changing entries. */
interface Abilities {
  /** Whether undoing a change restores every byte. */
  readonly restoreBytes: boolean;
}

/** A part of what a store keeps: plain data. What else it holds is known to its store alone. */
export interface Part {
  /** The name of its store. */
  readonly store: string;
  /** Where in its file the part begins, where a file has several parts. */
  readonly start?: PartStart;
}

/** Where in its file a part begins. */
export interface PartStart {
  /** In bytes. */
  readonly offset: number;
  /** From 1. */
  readonly line: number;
}

/** How far a part stands from where it stood. */
export type Shift = PartStart;

/** A reference to where an entry is kept. */
export interface Place {
  /** The name of the store. */
  readonly store: string;
  /** The path of a file below the workspace, or another name for the place. */
  readonly file: string;
  /** Where in the file the entry starts, in bytes, where a file keeps several. */
  readonly offset?: number;
  /** The line it starts in, where that is known. */
  readonly line?: number;
}

/** The content of one place of a store: an entry, or something unreadable. */
export type Item = Stored | Unreadable;

interface Kept {
  readonly place: Place;
  /** Differs whenever the stored content differs: a hash, an entity tag, the version of a row. */
  readonly version: string;
}

/** An entry with where it came from. */
export interface Stored extends Kept {
  readonly entry: Entry;
}

/** Something that is where an entry should and cannot be read as one. */
export interface Unreadable extends Kept {
  readonly problem: Problem;
}

/** Why something cannot be read as an entry, and where that shows. */
export interface Problem extends Position {
  readonly isLink?: true;
  readonly says: string;
  readonly mend: string;
}

/** The outcome for one entry, and the entries that come out of it. */
export interface EntryChange {
  /** The entry that is edited; absent where entries are made of nothing. */
  readonly stored?: Stored;
  /** The operations on it, in this order; the rest of it stays. `delete` leaves nothing of it. */
  readonly operations?: readonly Operation[];
  /** Entries that come new, kept near it. */
  readonly added?: readonly NewEntry[];
}

/** An entry that is not kept anywhere yet. */
export interface NewEntry extends EntryAddress {
  readonly values: JsonObject;
}

/** Changes of one store's entries, on their way. Nothing that is kept is touched before they are committed. */
export interface Transaction {
  /** Takes a change. Those of one part come in the order in which it is read. @throws {Trouble} where it cannot be made. */
  readonly change: (change: EntryChange) => Promise<void>;
  /** All changes were stated: the new files are in the sink. */
  readonly prepare: () => Promise<void>;
}

/** Takes the outcome for files: the journal of a run, which keeps the old files, writes the new ones and takes them back. */
export interface FileSink {
  /** Takes a file as a whole; without a side where there is none. */
  readonly add: (file: WholeFile) => void;
  /** Keeps a file as it is now, however large. @returns where the copy lies, and the hash (SHA-256) of its bytes. */
  readonly keep: (file: string) => { readonly copy: string; readonly hash: string };
  /** Begins to write what a kept file becomes, piece by piece. */
  readonly rewrite: (file: string, hash: string) => FileDraft;
}

/** A file that holds one entry. */
export interface FileOfEntry {
  readonly entry: Entry;
  /** Where a value is in it. */
  readonly locate: (path: Path, body?: string) => Span;
  /** The file after some operations; `undefined` where nothing is left of it. @throws {Trouble} where it cannot be edited. */
  readonly rewrite: (operations: readonly Operation[]) => { readonly path: string; readonly bytes: Buffer } | undefined;
}

/** A file in which each line is an entry. */
export interface FileOfLines {
  readonly lines: readonly LineOfEntry[];
  /** The bytes of a file with some lines. */
  readonly join: (lines: readonly Buffer[]) => Buffer;
}

/** A line with what ends it. */
export interface LineOfEntry {
  readonly bytes: Buffer;
  /** Absent where it holds none. */
  readonly entry?: Entry;
  /** The line after some operations; `undefined` where nothing is left of it. @throws {Trouble} where it cannot be edited. */
  readonly rewrite: (operations: readonly Operation[]) => Buffer | undefined;
}

/** A file before and after a change. */
export interface WholeFile {
  readonly before?: { readonly path: string; readonly hash: string; readonly bytes: Buffer };
  readonly after?: { readonly path: string; readonly bytes: Buffer };
  /** The address of the entry that is kept in it. */
  readonly entry?: string;
}

/** A file while it is written piece by piece. */
export interface FileDraft {
  readonly write: (bytes: Buffer) => void;
  readonly done: () => void;
}
