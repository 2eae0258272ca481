import fs from 'node:fs';
import path from 'node:path';
import { workspaceAround } from '../../workspace/open.ts';
import { refuse } from '../../workspace/trouble.ts';

/** @throws {Trouble} where the folder is a workspace, or in one. */
export function refuseUsed(root: string, named: string): void {
  const above = workspaceAround(root);
  if (above !== undefined)
    throw refuse('workspace-exists', `${above === root ? named : above} is a workspace already`, {
      mend: 'Learn in another folder: --out <folder>; or take lumbrik.yaml and model/ away first.',
    });
  if (fs.existsSync(path.join(root, 'model')))
    throw refuse('model-there', `there is a folder model in ${named} already`, {
      mend: 'Learn in another folder: --out <folder>; or take it away first.',
    });
}
