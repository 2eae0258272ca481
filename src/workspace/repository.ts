import fs from 'node:fs';
import path from 'node:path';

/** The path of a folder below the root of its git repository, with a slash at its end; empty where it is that, or in none. */
export function belowRepository(folder: string): string {
  for (let above = path.resolve(folder); ; above = path.dirname(above)) {
    if (fs.existsSync(path.join(above, '.git'))) {
      const below = path.relative(above, folder).split(path.sep).join('/');
      if (below === '') return '';
      return `${below}/`;
    }
    if (path.dirname(above) === above) return '';
  }
}
