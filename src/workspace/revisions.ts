import path from 'node:path';
import { anySize } from '../core/plain/limits.ts';
import { follows, type Revision, readRevision, revisionText } from '../core/revision/chain.ts';
import { hashBytes, listFiles, readText } from './files.ts';
import { RevisionMemory } from './memory/revisionMemory.ts';
import { Trouble } from './trouble.ts';

const folder = 'revisions';
/** The file of a revision, by its number. */
export const fileOfRevision = (revision: number): string => `${folder}/${String(revision).padStart(4, '0')}.json`;

/** A recorded revision as it is on the disk: sound, or altered since it was recorded. */
export type Recorded = { readonly file: string; readonly number: number } & (
  | { readonly sound: Revision }
  | { readonly altered: string }
);

/**
 * Every recorded revision in order, each with whether it is what was recorded. What is wrong with one is stated of that
 * one: those that follow it are sound if they are what was recorded themselves.
 */
export function listRevisions(root: string): readonly Recorded[] {
  const files = listFiles(root, folder, ['.json']).filter((name) => /^\d{4,}\.json$/u.test(name));
  const memory = new RevisionMemory(root);
  const revisions = withGaps(files.map((name) => readRecorded(root, name, memory)));
  memory.forgetOthers();

  return revisions.map((recorded, index) => {
    if (!('sound' in recorded)) return recorded;

    const { file, number } = recorded;
    const [before, after, afterThat] = [-1, 1, 2].map((step) => soundAt(revisions, index + step));
    const isConfirmed = after !== undefined && follows(after, recorded.sound);
    const breaksBefore = index === 0 ? recorded.sound.previous !== null : before && !follows(recorded.sound, before);
    if (breaksBefore && !isConfirmed)
      return {
        file,
        number,
        altered: `it does not follow revision ${number - 1} as that stands here: one of the two is another`,
      };
    if (after && !isConfirmed && afterThat && follows(afterThat, after))
      return { file, number, altered: `it is not the one that revision ${after.revision} follows` };
    return recorded;
  });
}

const soundAt = (revisions: readonly Recorded[], index: number): Revision | undefined => {
  const recorded = revisions[index];
  if (recorded && 'sound' in recorded) return recorded.sound;
  return undefined;
};

/** The same with what stands for revisions that are missing between others. */
function withGaps(present: readonly Recorded[]): readonly Recorded[] {
  return present.flatMap((recorded, index) => {
    const first = (present[index - 1]?.number ?? 0) + 1;
    const missing = recorded.number - first;
    if (missing <= 0) return [recorded];
    const altered = missing === 1 ? 'the file is gone' : `the file is gone, and so are the ${missing - 1} after it`;
    return [{ file: fileOfRevision(first), number: first, altered }, recorded];
  });
}

/** A revision as its file says it, whatever is beside it. */
function readRecorded(root: string, name: string, memory: RevisionMemory): Recorded {
  const place = { file: `${folder}/${name}`, number: Number.parseInt(name, 10) };
  const text = readText(path.join(root, place.file), anySize);
  const revision = 'value' in text ? readRemembered(text.value, memory) : undefined;
  if (!revision) return { ...place, altered: 'it is not what was recorded: its content does not match its hash' };
  if (revision.revision !== place.number) return { ...place, altered: `it holds revision ${revision.revision}` };
  return { ...place, sound: revision };
}

function readRemembered(text: string, memory: RevisionMemory): Revision | undefined {
  const revision = readRevision(text, { sha256: hashBytes, isSound: (hash) => memory.isSound(hash, text) });
  if (revision) memory.note(revision.hash, text);
  return revision;
}

/** The sound revisions. @throws {Trouble} where any was altered: nothing is built on what cannot be trusted. */
export function readRevisions(root: string): readonly Revision[] {
  return listRevisions(root).map((listed) => {
    if ('sound' in listed) return listed.sound;
    throw new Trouble('altered-revision', `${listed.file} was altered: ${listed.altered}`, {
      mend: 'Bring the recorded file back from version control; revisions are never edited. See lumbrik history. Where git merged two branches that both recorded one: lumbrik history --merge',
      where: { file: listed.file },
    });
  });
}

/** The file that records a revision, and its text. */
export const revisionFile = (revision: Revision): { readonly file: string; readonly text: string } => ({
  file: fileOfRevision(revision.revision),
  text: revisionText(revision),
});
