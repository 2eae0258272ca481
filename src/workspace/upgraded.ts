import path from 'node:path';
import { editsOfUpgrade } from '../core/model/upgrade.ts';
import type { Limits } from '../core/plain/limits.ts';
import { editedText } from './edited.ts';
import { readTextOrRefuse } from './files.ts';
import { modelFiles } from './open.ts';
import { readFiles } from './readFiles.ts';

/** A file of the model before and after its keys of earlier models were put into their present places. */
export interface UpgradedFile {
  readonly file: string;
  readonly before: string;
  readonly text: string;
}

/** The files of a model that have keys of earlier models, with these in their present places. Nothing is written. @throws {Trouble} */
export function upgradedFiles(root: string, limits: Limits): readonly UpgradedFile[] {
  const { files } = readFiles(root, modelFiles(root), { limits });
  const edits = editsOfUpgrade(files.map(({ file, source }) => ({ file, data: source.data })));

  return [...edits].map(([file, some]) => {
    const before = readTextOrRefuse(path.join(root, file), file, limits);
    return { file, before, text: editedText(file, before, some) };
  });
}
