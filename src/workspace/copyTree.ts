import fs from 'node:fs';
import path from 'node:path';
import { besideOf } from './files.ts';
import { hashFile } from './largeFiles.ts';
import { makeFolder } from './makeFolder.ts';
import { renameOver } from './platform.ts';
import { systemTrouble } from './trouble.ts';

/**
 * Copies a file or a folder so that a stop at any instant leaves the whole copy or none: beside its place, under a name
 * that nothing reads, then renamed. Links are copied as links. @throws {Trouble}
 */
export function copyWhole(from: string, to: string): void {
  const beside = besideOf(to);
  try {
    makeFolder(path.dirname(to));
    fs.rmSync(beside, { recursive: true, force: true });
    fs.cpSync(from, beside, { recursive: true, errorOnExist: true, verbatimSymlinks: true });
    renameOver(beside, to);
  } catch (error) {
    fs.rmSync(beside, { recursive: true, force: true });
    throw systemTrouble(error, to);
  }
}

/** Whether two files, or two folders with all below them, hold the same bytes under the same names. */
export function isSameTree(a: string, b: string): boolean {
  const [statA, statB] = [fs.lstatSync(a), fs.lstatSync(b)];
  if (statA.isDirectory() !== statB.isDirectory()) return false;
  if (!statA.isDirectory())
    return statA.size === statB.size && hashFile(a) !== undefined && hashFile(a) === hashFile(b);

  const [namesA, namesB] = [fs.readdirSync(a).sort(), fs.readdirSync(b).sort()];
  return (
    namesA.length === namesB.length &&
    namesA.every((name, index) => name === namesB[index] && isSameTree(path.join(a, name), path.join(b, name)))
  );
}
