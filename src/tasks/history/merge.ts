import { z } from 'zod';
import { hashModel } from '../../core/revision/canonical.ts';
import { changeFiles } from '../../journal/change.ts';
import { mergeSides } from '../../workspace/git.ts';
import { refuse, Trouble } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { writing } from '../openForCall.ts';
import { head, resultVersion } from '../result.ts';
import { sideAt } from './branchRecords.ts';
import { bringForward } from './bringForward.ts';
import { changesOf, ordered } from './order.ts';

/** The result of `lumbrik history`. */
export const MergeResult = z.strictObject({
  ...head('history'),
  /** Revisions of the other side, with the numbers that they have now. */
  revisions: z.array(z.strictObject({ was: z.int(), is: z.int(), message: z.string() })),
  migrations: z.array(
    z.strictObject({
      was: z.string(),
      file: z.string(),
      /** Steps that both sides had: once is enough. */
      same: z.int(),
      /** Steps that do not go together with what this side did, and were removed. */
      refused: z.array(z.strictObject({ step: z.int(), address: z.string(), says: z.string() })),
    }),
  ),
  /** How many entries were brought forward. */
  entries: z.int(),
  /** Entries that neither side's steps make right. */
  left: z.array(z.string()),
  /** Whether the working files say more than the last revision. */
  changedSince: z.boolean(),
});
export type MergeResult = z.output<typeof MergeResult>;

/**
 * Puts the revisions and migrations of two branches into one order, after git merged them: those of this side stay as
 * they are, those of the other follow, laid over what this side did. Entries of either side come forward by the same steps.
 * @throws {Trouble} where there is no merge, or nothing that has to be put in order.
 */
export async function mergeHistory(call: Call): Promise<MergeResult> {
  return writing(call, async (workspace) => {
    const { root } = workspace;
    const sides = mergeSides(root);
    if (!sides)
      throw new Trouble('no-merge', 'there is no merge here: neither one under way, nor is the last commit one', {
        mend: 'Merge the other branch first: git merge <branch>',
      });

    const [ours, theirs] = [sideAt(root, sides.ours), sideAt(root, sides.theirs)];
    const shared = ours.revisions.findIndex(({ hash }, index) => theirs.revisions[index]?.hash !== hash);
    const parted = shared < 0 ? ours.revisions.length : shared;
    const [ownRevisions, other] = [ours.revisions.slice(parted), theirs.revisions.slice(parted)];
    if (ownRevisions.length === 0 || other.length === 0)
      throw refuse(
        'nothing-to-order',
        'only one of the two branches recorded revisions: there is nothing to put in order',
        {
          mend: 'Resolve the merge as git asks; lumbrik history shows the revisions.',
        },
      );

    const base = ours.revisions[parted - 1];
    const order = await ordered({ ours, theirs, base, ownRevisions, other });
    changeFiles(root, changesOf(order, { ours, theirs }));
    const brought = await bringForward(call, workspace, order, sides);

    return {
      lumbrik: resultVersion,
      command: 'history',
      revisions: order.revisions.map(({ was: oldRevision, is: newRevision }) => ({
        was: oldRevision.revision,
        is: newRevision.revision,
        message: newRevision.message,
      })),
      migrations: order.migrations.map(({ was: oldMigrationFile, is: after, laid }) => ({
        was: oldMigrationFile.file,
        file: after.file,
        same: laid.same.length,
        refused: laid.refused.map(({ number, address, says: message }) => ({ step: number, address, says: message })),
      })),
      ...brought,
      changedSince: hashModel(order.last) !== workspace.modelHash,
    };
  });
}
