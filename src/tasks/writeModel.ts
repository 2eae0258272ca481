import { changeFiles, type WantedChange } from '../journal/change.ts';
import { openWorkspace, type Workspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import { keptSchemaChanges } from './schemas.ts';

/**
 * Writes files of the model or of an open taxonomy's terms, and brings the schemas up to date. The model is read as it
 * would be first. @throws {Trouble} where that brings a mistake; then nothing is written.
 */
export function writeModelFiles(root: string, files: readonly WantedChange[]): void {
  writeModelRead(root, files, modelWritten(root, files));
}

/** The workspace as it would be after some files were written. @throws {Trouble} where its model would have a mistake. */
export function modelWritten(root: string, files: readonly WantedChange[]): Workspace {
  const workspace = openWorkspace(root, new Map(files.map(({ file, text }) => [file, text])));
  const [mistake] = workspace.mistakes;
  if (!mistake) return workspace;
  throw new Trouble('model-mistakes', `that would be a mistake: ${mistake.says}`, {
    mend: `${mistake.mend} Nothing was written.`,
  });
}

/** Writes files that were read by {@link modelWritten}. */
export function writeModelRead(root: string, files: readonly WantedChange[], workspace: Workspace): void {
  changeFiles(root, [...files, ...keptSchemaChanges(workspace)]);
}
