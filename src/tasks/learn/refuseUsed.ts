import fs from 'node:fs';
import path from 'node:path';
import { forgetChange, isChangePending } from '../../journal/change.ts';
import { settleForReading } from '../../journal/settle.ts';
import { withLock } from '../../workspace/lock.ts';
import { workspaceAround } from '../../workspace/open.ts';
import { refuse } from '../../workspace/trouble.ts';

/**
 * Brings a folder into order that is to become a workspace: an earlier call may have been stopped there.
 * @throws {Trouble} where the folder is a workspace, or in one.
 */
export async function refuseUsed(root: string, named: string): Promise<void> {
  const above = workspaceAround(root);
  if (above === root) await settleForReading(root);
  // The file that makes a workspace is written first: without it nothing was.
  else if (isChangePending(root)) await withLock(root, () => forgetChange(root));

  if (above !== undefined)
    throw refuse('workspace-exists', `${above === root ? named : above} is a workspace already`, {
      mend: 'Learn in another folder: --out <folder>; or take lumbrik.yaml and model/ away first.',
    });
  if (fs.existsSync(path.join(root, 'model')))
    throw refuse('model-there', `there is a folder model in ${named} already`, {
      mend: 'Learn in another folder: --out <folder>; or take it away first.',
    });
}
