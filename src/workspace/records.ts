import type { Revision } from '../core/revision/chain.ts';
import { readContentRevision } from './contentRevision.ts';
import { readRevisions } from './revisions.ts';

/**
 * What is recorded in a workspace beside its model. Each is read once for a command, when it is first asked for: most
 * commands need little of it, and what is damaged stops only those that build on it.
 */
export interface Records {
  /** The sound revisions, the oldest first. @throws {Trouble} where any was altered. */
  readonly revisions: readonly Revision[];
  /** The hash of the model that the entries obey; `undefined` as long as nothing was recorded. @throws {Trouble} */
  readonly contentRevision: string | undefined;
}

/** The records of a workspace as they are on the disk. */
export function recordsIn(root: string): Records {
  let revisions: readonly Revision[] | undefined;
  let content: { readonly revision: string | undefined } | undefined;

  return {
    get revisions() {
      revisions ??= readRevisions(root);
      return revisions;
    },
    get contentRevision() {
      content ??= { revision: readContentRevision(root) };
      return content.revision;
    },
  };
}
