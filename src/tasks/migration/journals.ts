import { z } from 'zod';
import { type Run, readRuns } from '../../journal/runs.ts';
import { refuseInterrupted } from '../../journal/settle.ts';
import { asideNames, ownNames, ownSize, removeOwn } from '../../workspace/ownFolder.ts';
import { Trouble } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { readingRuns, settledAlone } from '../openForCall.ts';
import { head, resultVersion } from '../result.ts';

/** The result of `lumbrik migration journals`. */
export const JournalsResult = z.strictObject({
  ...head('migration journals'),
  journals: z.array(
    z.strictObject({
      folder: z.string(),
      /** The migration that was run, and its number. */
      file: z.string(),
      number: z.int(),
      state: z.enum(['running', 'done', 'undoing', 'undone']),
      /** Whether it took another run back, beside later edits. */
      isUndo: z.boolean(),
      /** When it was run: RFC 3339, in UTC. */
      date: z.string(),
      /** How many bytes of entries it keeps: what they were, and what they became. */
      bytes: z.int(),
      /** Whether these bytes were taken away just now. */
      emptied: z.boolean(),
    }),
  ),
  /** Journals that could not be read, and were moved out of the way. */
  aside: z.array(z.strictObject({ folder: z.string(), bytes: z.int() })),
});
export type JournalsResult = z.output<typeof JournalsResult>;

/** The journals of runs, with what they take up. */
export async function journals(call: Call): Promise<JournalsResult> {
  const { root } = await readingRuns(call);
  return told(root, new Set());
}

/**
 * Takes the bytes of entries out of old journals. That a run was made stays written down; it can no longer be undone.
 * @param keep of how many of the newest runs they stay. @throws {Trouble} where a run was stopped midway.
 */
export async function emptyJournals(call: Call, keep: number): Promise<JournalsResult> {
  if (!Number.isSafeInteger(keep) || keep < 0)
    throw new Trouble('unusable-call', `--keep ${keep} is no number of runs`, { mend: 'Write --keep 1, or more.' });
  return settledAlone(call, (root) => {
    refuseInterrupted(root);
    const runs = readRuns(root).sound;
    const keptRuns = new Set(runs.filter(({ state }) => state === 'done').slice(-keep || runs.length));
    const emptied = runs.filter((run) => !keptRuns.has(run) && bytesIn(root, run) > 0);
    const before = told(root, new Set(emptied.map(({ folder }) => folder)));
    for (const { folder } of emptied) for (const name of blobsIn(root, folder)) removeOwn(root, `${folder}/${name}`);
    return before;
  });
}

function told(root: string, emptied: ReadonlySet<string>): JournalsResult {
  return {
    lumbrik: resultVersion,
    command: 'migration journals',
    journals: readRuns(root).sound.map((run) => ({
      folder: run.folder,
      file: run.plan.file,
      number: run.plan.migration,
      state: run.state,
      isUndo: run.plan.undoes !== undefined,
      date: run.plan.date,
      bytes: bytesIn(root, run),
      emptied: emptied.has(run.folder),
    })),
    aside: asideNames(root).map((folder) => ({ folder, bytes: ownSize(root, folder) })),
  };
}

/** What a journal keeps of entries: each file named for the hash of its bytes. */
const blobsIn = (root: string, folder: string): readonly string[] =>
  ownNames(root, folder).filter((name) => /^[0-9a-f]{64}$/u.test(name));

const bytesIn = (root: string, { folder }: Run): number =>
  blobsIn(root, folder).reduce((sum, name) => sum + ownSize(root, `${folder}/${name}`), 0);
