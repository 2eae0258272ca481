import fs from 'node:fs';
import path from 'node:path';

/**
 * Makes a folder, and those above it that are missing, one by one: all at once, Node.js tries for ever below a folder of the
 * system that takes none.
 * @param mode who may do what with those that are made.
 * @returns whether it was missing. Throws what the system says where it cannot be made.
 */
export function makeFolder(folder: string, mode = 0o777): boolean {
  if (fs.statSync(folder, { throwIfNoEntry: false })?.isDirectory()) return false;

  if (path.dirname(folder) !== folder) makeFolder(path.dirname(folder), mode);
  try {
    fs.mkdirSync(folder, { mode });
  } catch (error) {
    // Another process may have made it meanwhile.
    if (!fs.statSync(folder, { throwIfNoEntry: false })?.isDirectory()) throw error;
  }

  return true;
}
