import path from 'node:path';
import { follows, type Revision, readRevision, revisionText } from '../core/revision/chain.ts';
import { listFiles, readText } from './files.ts';
import { Trouble } from './trouble.ts';

const folder = 'revisions';
const fileOf = (revision: number): string => `${folder}/${String(revision).padStart(4, '0')}.json`;

/** A recorded revision as it lies on the disk: sound, or altered since it was recorded. */
export type Recorded = { readonly file: string; readonly number: number } & (
  | { readonly sound: Revision }
  | { readonly altered: string }
);

/** Every recorded revision in order, each with whether it is what was recorded. */
export function listRevisions(root: string): readonly Recorded[] {
  const files = listFiles(root, folder, ['.json']).filter((name) => /^\d{4,}\.json$/u.test(name));
  const recorded: Recorded[] = [];
  let before: Revision | undefined;

  for (const name of files) {
    const here = { file: `${folder}/${name}`, number: Number.parseInt(name, 10) };
    const text = readText(path.join(root, here.file));
    const revision = typeof text === 'string' ? readRevision(text) : undefined;
    if (!revision)
      recorded.push({ ...here, altered: 'it is not what was recorded: its content does not match its hash' });
    else if (revision.revision !== here.number)
      recorded.push({ ...here, altered: `it holds revision ${revision.revision}` });
    else if (!follows(revision, before) && before !== undefined)
      recorded.push({ ...here, altered: `it does not follow revision ${before.revision} as that stands here` });
    else if (!follows(revision, before))
      recorded.push({ ...here, altered: 'the revision before it is missing or altered' });
    else recorded.push({ ...here, sound: revision });
    before = revision;
  }
  return recorded;
}

/** The sound revisions. @throws {Trouble} where any was altered: nothing is built on what cannot be trusted. */
export function readRevisions(root: string): readonly Revision[] {
  return listRevisions(root).map((one) => {
    if ('sound' in one) return one.sound;
    throw new Trouble('altered-revision', `${one.file} was altered: ${one.altered}`, {
      mend: 'Bring the recorded file back from version control; revisions are never edited. See lumbrik history.',
      where: { file: one.file },
    });
  });
}

/** The file that records a revision, and its text. */
export const revisionFile = (revision: Revision): { readonly file: string; readonly text: string } => ({
  file: fileOf(revision.revision),
  text: revisionText(revision),
});
