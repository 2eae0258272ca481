import { z } from 'zod';
import { hashModel } from '../core/revision/canonical.ts';
import { listRevisions } from '../workspace/revisions.ts';
import type { Call } from './call.ts';
import { readingRuns } from './openForCall.ts';
import { head, resultVersion } from './result.ts';

const Entry = z.strictObject({
  revision: z.int(),
  file: z.string(),
  /** Whether the file is exactly what was recorded. */
  sound: z.boolean(),
  /** Why it is not. */
  altered: z.string().optional(),
  version: z.string().optional(),
  date: z.string().optional(),
  message: z.string().optional(),
  hash: z.string().optional(),
  /** The hash of its model alone. */
  model: z.string().optional(),
  types: z.int().optional(),
  /** Whether this is the model that the entries obey. */
  entriesStandHere: z.boolean(),
});

/** The result of `lumbrik history`. */
export const HistoryResult = z.strictObject({
  ...head('history'),
  /** Whether every revision is what was recorded. */
  ok: z.boolean(),
  /** Whether the working files say something that the newest revision does not. */
  changedSince: z.boolean(),
  revisions: z.array(Entry),
});
export type HistoryResult = z.output<typeof HistoryResult>;

/** Lists the recorded revisions, newest first, and finds any that was altered. */
export async function history(call: Call): Promise<HistoryResult> {
  const { root, modelHash, records } = await readingRuns(call);
  const obeyedHash = records.contentRevision;
  const recorded = listRevisions(root);
  const revisions = recorded.map((recorded): z.output<typeof Entry> => {
    if ('altered' in recorded)
      return {
        revision: recorded.number,
        file: recorded.file,
        sound: false,
        altered: recorded.altered,
        entriesStandHere: false,
      };

    const { revision, version, date, message, hash, model } = recorded.sound;
    const ofModel = hashModel(model);

    return {
      revision,
      file: recorded.file,
      sound: true,
      version,
      date,
      message,
      hash,
      model: ofModel,
      types: Object.keys(model.types).length,
      entriesStandHere: ofModel === obeyedHash,
    };
  });

  return {
    lumbrik: resultVersion,
    command: 'history',
    ok: revisions.every(({ sound }) => sound),
    changedSince: revisions.at(-1)?.model !== modelHash,
    revisions: revisions.reverse(),
  };
}
