import { type EntryAddress, keyOf } from '../core/entry/entry.ts';
import type { NotRead } from '../workspace/files.ts';
import { refuse, type Trouble } from '../workspace/trouble.ts';
import type { Problem } from './store.ts';

/** Why a file could not be read, as the problem of an entry that is kept in it. */
export function problemOf({ notRead: says, ...problem }: NotRead): Problem {
  return { says, ...problem };
}

/** That an entry is another one by now than the one that was worked on. */
export const changedMeanwhile = (entry: EntryAddress, file: string): Trouble =>
  refuse('changed-meanwhile', `${keyOf(entry)} changed while it was worked on`, {
    mend: 'Nothing was written. Try again.',
    where: { file },
  });
