import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { isWindows } from './platform.ts';
import { systemTrouble, Trouble } from './trouble.ts';

/** Makes a folder for files that are not kept. @param name its purpose, which becomes part of its name. @throws {Trouble} */
export function temporaryFolder(name: string): string {
  const place = os.tmpdir();
  try {
    return fs.mkdtempSync(path.join(place, `lumbrik-${name}-`));
  } catch (error) {
    const { message } = systemTrouble(error, place);
    throw new Trouble('no-temporary-folder', `the folder for temporary files cannot be used: ${message}`, {
      mend: `Say another one in ${isWindows() ? 'TEMP' : 'TMPDIR'}.`,
      cause: error,
    });
  }
}
