import { type Revision, readRevision } from '../../core/revision/chain.ts';
import { filesAt } from '../../workspace/git.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { type MigrationFile, migrationIn } from '../migrationFiles.ts';

/** What one branch recorded. */
export interface Side {
  readonly revisions: readonly Revision[];
  readonly migrations: readonly MigrationFile[];
  /** The texts of its migrations, by file. */
  readonly texts: ReadonlyMap<string, string>;
}

/** The revisions and migrations at a commit. */
export function sideAt(root: string, commit: string): Side {
  const files = filesAt(root, commit, ['revisions', 'migrations']);
  const named = (folder: string) =>
    [...files].filter(([file]) => file.startsWith(`${folder}/`)).sort(([a], [b]) => (a < b ? -1 : 1));
  const revisions = named('revisions').map(([file, bytes]) => {
    const revision = readRevision(bytes.toString('utf8'));
    if (revision) return revision;
    throw new Trouble('altered-revision', `${file} is not what was recorded, at the commit ${commit.slice(0, 12)}`, {
      mend: 'Bring it back on that branch, then merge again.',
      where: { file },
    });
  });
  const texts = new Map(
    named('migrations')
      .filter(([file]) => /\/\d+-[^/]*\.yaml$/u.test(file))
      .map(([file, bytes]) => [file, bytes.toString('utf8')]),
  );

  return { revisions, texts, migrations: [...texts].map(([file, text]) => migrationIn(file, text)) };
}
