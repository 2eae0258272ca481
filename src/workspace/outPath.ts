import path from 'node:path';
import { refuseLinksTo } from './files.ts';

/**
 * The whole path of a file or folder that a person names for output. Inside the workspace no link on the way is followed:
 * it could lead anywhere. @throws {Trouble} where one is there.
 */
export function outPath(root: string, outFile: string): string {
  const full = path.resolve(outFile);
  const below = path.relative(root, full);
  const isInside = below !== '' && !path.isAbsolute(below) && below.split(path.sep)[0] !== '..';
  if (isInside) refuseLinksTo(root, below.split(path.sep).join('/'));
  return full;
}
