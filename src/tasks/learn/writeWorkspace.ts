import path from 'node:path';
import { list } from '../../core/plain/words.ts';
import { changeFiles } from '../../journal/change.ts';
import { isTermsFile } from '../../workspace/contentTerms.ts';
import { statOf } from '../../workspace/files.ts';
import { withLock } from '../../workspace/lock.ts';
import { openWorkspace } from '../../workspace/open.ts';
import { workspaceFile } from '../../workspace/readFiles.ts';
import { refuse, Trouble } from '../../workspace/trouble.ts';

/**
 * Makes a folder a workspace: writes all files of a learnt model, or none. The model is read as it will be first.
 * @param files by their paths below the root, with `lumbrik.yaml` among them.
 * @throws {Trouble} where one of them is there already, or a file of terms that is there has a mistake.
 */
export async function writeWorkspace(root: string, files: ReadonlyMap<string, string>): Promise<void> {
  const existing = [...files.keys()].filter((file) => statOf(path.join(root, file)));
  if (existing.length > 0)
    throw refuse('other-file', `there is ${list(existing)} already`, {
      mend: 'Take that away, or learn in another folder.',
    });

  refuseMistakes(root, files);

  // First what makes the folder a workspace: once it is there, the next command of any kind writes what a stop left out.
  const settings = [workspaceFile, ...[...files.keys()].filter((file) => file !== workspaceFile)];
  await withLock(root, () =>
    changeFiles(
      root,
      settings.map((file) => ({ file, text: files.get(file) ?? '', from: null })),
    ),
  );
}

function refuseMistakes(root: string, files: ReadonlyMap<string, string>): void {
  const [mistake] = openWorkspace(root, files).mistakes;
  if (!mistake) return;

  const { file, line, column, says: message, mend } = mistake;
  if (!files.has(file) && isTermsFile(file))
    throw new Trouble('unusable-terms', `the terms in ${file} cannot be used: ${message}`, {
      mend: `${mend} Nothing was written.`,
      where: { file, line, column },
    });
  throw new Error(`the learnt model has a mistake: ${file}:${line} ${message}`);
}
