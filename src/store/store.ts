import type { Entry } from '../core/entry/entry.ts';
import type { Operation } from '../core/migration/operation.ts';
import type { Path } from '../core/plain/json.ts';
import type { Position } from '../core/source/yaml.ts';

/**
 * Where entries live. Every store has this interface and passes the same contract test; nothing in it assumes that all
 * entries fit into memory, or that they are files.
 */
export interface EntryStore {
  /** Every entry in a stable order, one at a time, each as it is at that moment. */
  readonly entries: () => AsyncIterable<Stored | Unreadable>;
  /**
   * One entry by its address.
   * @param file where it was met before, if it was: looked at first.
   */
  readonly find: (type: string, id: string, file?: string) => Promise<Stored | undefined>;
}

/** An entry with where it came from. */
export interface Stored {
  readonly entry: Entry;
  /** The path of its file below the workspace, or another name of its place. */
  readonly file: string;
  /** The SHA-256 of its bytes, in hexadecimal. */
  readonly hash: string;
  /**
   * Where a value stands; worked out only when it is asked for.
   * @param body the field that is the text below the front matter, if the type has one.
   */
  readonly locate: (path: Path, body?: string) => Position;
  /** The entry's new bytes and place after some operations; `undefined` where it is deleted. */
  readonly rewrite: (
    operations: readonly Operation[],
  ) => { readonly file: string; readonly content: Buffer } | undefined;
  readonly original: Buffer;
}

/** Something that stands where an entry should and cannot be read as one. */
export interface Unreadable extends Position {
  readonly file: string;
  readonly isLink: boolean;
  readonly says: string;
  readonly mend: string;
  readonly hash: string;
}
