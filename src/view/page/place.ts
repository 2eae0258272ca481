import fs from 'node:fs';
import { statOf } from '../../workspace/files.ts';
import { refuse, systemTrouble } from '../../workspace/trouble.ts';

/** The default file of a page. */
export const usualPage = 'report.html';

/** By this a page is known again. */
export const ownMark = '<meta name="generator" content="Lumbrik">';

/** @throws {Trouble} where something is there that is none of these pages: nobody asked for it to go. */
export function refuseOther(file: string): void {
  const stat = statOf(file);
  if (!stat || (stat.isFile() && startOf(file).includes(ownMark))) return;
  throw refuse('other-file', 'there is something else already, which no report wrote', {
    mend: 'Name another file with --out, or move that one away.',
    where: { file },
  });
}

/** The beginning of a file, where a page says what it is. */
function startOf(file: string): string {
  try {
    const handle = fs.openSync(file, 'r');
    const start = Buffer.alloc(4096);
    try {
      return start.toString('utf8', 0, fs.readSync(handle, start));
    } finally {
      fs.closeSync(handle);
    }
  } catch (error) {
    throw systemTrouble(error, file);
  }
}
