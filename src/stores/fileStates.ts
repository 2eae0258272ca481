import fs from 'node:fs';
import path from 'node:path';
import { hashBytes } from '../workspace/files.ts';

/** A file that was written so shortly ago, in milliseconds, may be written again within the same tick of its clock. */
const fresh = 2000;

/** A text that stays the same while some files do, made without reading them; `undefined` where one is too fresh to tell. */
export function statesOf(root: string, files: readonly string[]): string | undefined {
  const currentTime = BigInt(Date.now() - fresh) * 1_000_000n;
  const states: string[] = [];
  for (const file of files) {
    const stat = fs.lstatSync(path.join(root, file), { bigint: true, throwIfNoEntry: false });
    if (!stat || stat.mtimeNs > currentTime || stat.ctimeNs > currentTime) return undefined;
    states.push(`${file}\0${stat.size} ${stat.mtimeNs} ${stat.ctimeNs} ${stat.ino} ${stat.mode}`);
  }

  return hashBytes(states.join('\n'));
}
