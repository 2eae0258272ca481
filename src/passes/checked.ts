import type { Joined } from '../core/check/joinedFindings.ts';
import type { Overflow } from '../core/check/overflow.ts';
import type { Assets } from '../core/entry/assets.ts';
import type { EntryAddress } from '../core/entry/entry.ts';
import type { Path } from '../core/plain/json.ts';
import type { MemorySpace } from '../workspace/memory/partMemory.ts';
import type { Place as FilePlace } from '../workspace/trouble.ts';
import type { LocatedFinding } from './locatedFinding.ts';

/** Everything that checking all entries tells. */
export interface Checked extends Omit<Joined, 'findings'> {
  readonly findings: readonly LocatedFinding[];
  /** How many entries were looked at. */
  readonly looked: number;
  /** Every entry that was looked at, with its file. */
  readonly all: () => Iterable<{ readonly entry: EntryAddress; readonly file: string }>;
  /** The identifiers of the entries of a type. */
  readonly idsOf: (type: string) => ReadonlyMap<string, unknown>;
  /** The entries that point at some others, by their addresses. */
  readonly pointingAt: (entries: ReadonlySet<string>) => ReadonlySet<string>;
  /** The entries that some others point at, by their addresses. */
  readonly pointedAtBy: (entries: ReadonlySet<string>) => ReadonlySet<string>;
}

/** What checking may look at beside entries. */
export interface CheckContext {
  readonly assets?: Assets | undefined;
  /** Where a part of the model document is stated in its files. */
  readonly placeOf?: (path: Path) => FilePlace | undefined;
  /** The cache for the findings of parts of a large store. */
  readonly memory?: MemorySpace | undefined;
  /** Where the facts of very many entries have room. */
  readonly overflow?: Overflow;
  /** Takes findings while it lasts, in the order of the store; then nothing of it is kept for the end. */
  readonly tell?: Tell | undefined;
  /** Whether only problems are requested: then unchanged entries need not be known. */
  readonly findingsAlone?: boolean;
}

/** Takes some findings; may have to wait until there is room for more. */
export type Tell = (findings: readonly LocatedFinding[]) => Promise<void> | void;
