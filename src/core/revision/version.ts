import type { Rating } from '../diff/rating.ts';

/** The version of the first revision. */
export const firstVersion = '1.0.0';

/**
 * The version number after a change, in the manner of Semantic Versioning 2.0.0: the first number goes up where readers
 * break or entries lose something, the second where readers may notice or entries need a migration, the third otherwise.
 */
export function nextVersion(version: string, { entries, readers }: Rating): string {
  const [major = 0, minor = 0, patch = 0] = version.split('.').map(Number);
  if (readers === 'break' || entries === 'lose') return `${major + 1}.0.0`;
  if (readers === 'notice' || entries === 'migrate') return `${major}.${minor + 1}.0`;
  return `${major}.${minor}.${patch + 1}`;
}
