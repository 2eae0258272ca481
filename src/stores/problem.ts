import { type EntryAddress, keyOf } from '../core/entry/entry.ts';
import { refuse, type Trouble } from '../workspace/trouble.ts';

/** That an entry is another one now than the one that was worked on. */
export const changedMeanwhile = (entry: EntryAddress, file: string): Trouble =>
  refuse('changed-meanwhile', `${keyOf(entry)} changed while it was worked on`, {
    mend: 'Nothing was written. Try again.',
    where: { file },
  });
