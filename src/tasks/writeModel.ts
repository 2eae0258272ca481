import { changeFiles } from '../journal/change.ts';
import { openWorkspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import { keptSchemaChanges } from './schemas.ts';

/**
 * Writes a file of the model or of an open taxonomy's terms, and brings the schemas up to date. The model is read as it
 * would be first. @throws {Trouble} where that brings a mistake; then nothing is written.
 */
export function writeModelFile(root: string, file: string, text: string): void {
  const workspace = openWorkspace(root, new Map([[file, text]]));
  const [mistake] = workspace.mistakes;
  if (mistake)
    throw new Trouble('model-mistakes', `that would be a mistake: ${mistake.says}`, {
      mend: `${mistake.mend} Nothing was written.`,
    });
  changeFiles(root, [{ file, text }, ...keptSchemaChanges(workspace)]);
}
