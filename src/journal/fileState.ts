import fs from 'node:fs';
import path from 'node:path';
import { statOf } from '../workspace/files.ts';
import { hashFile } from '../workspace/largeFiles.ts';
import { systemTrouble } from '../workspace/trouble.ts';

/** The SHA-256 of a file of a workspace as it is now; `undefined` where there is none. One that cannot be read is like no other. */
export function hashOfFile(root: string, file: string): string | undefined {
  const full = path.join(root, file);
  if (!statOf(full)) return undefined;
  return hashFile(full) ?? 'unreadable';
}

/** The permissions of a file, as in `0o644`; `undefined` where there is none. */
export function modeOf(root: string, file: string): number | undefined {
  const full = path.join(root, file);
  try {
    const mode = fs.lstatSync(full, { throwIfNoEntry: false })?.mode;
    if (mode === undefined) return undefined;
    return mode & 0o7777;
  } catch (error) {
    throw systemTrouble(error, full);
  }
}
