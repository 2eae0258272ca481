import fs from 'node:fs';
import path from 'node:path';
import { compare } from '../core/diff/compare.ts';
import type { StatedRenames } from '../core/diff/statedRenames.ts';
import { draftSteps, migrationText } from '../core/migration/draft.ts';
import { planMigration } from '../core/migration/plan.ts';
import { compact } from '../core/plain/json.ts';
import { finishRun } from '../journal/carryOut.ts';
import { savedMeanwhile, type WantedChange } from '../journal/change.ts';
import { mendsNumber } from '../journal/plan.ts';
import { Staging } from '../journal/staging.ts';
import { eachEntry, type Pass } from '../passes/pass.ts';
import { walk } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import type { WholeFile } from '../stores/store.ts';
import { timestamp } from '../workspace/clock.ts';
import { hashBytes } from '../workspace/files.ts';
import type { Workspace } from '../workspace/open.ts';
import type { Call } from './call.ts';
import { prepared, stagingPass } from './migration/migrateStored.ts';
import { migrationIn, misfitTrouble } from './migrationFiles.ts';

/** A change of the model that the entries follow at once. */
export interface CarryOptions {
  /** The workspace with the files as they are, and as they are to be. */
  readonly before: Workspace;
  readonly after: Workspace;
  /** The files of the model that are written with the entries. */
  readonly files: readonly WantedChange[];
  readonly stated: StatedRenames;
  /** What the run is called among runs: `rename note.title heading`. */
  readonly name: string;
}

/** Whether nothing is recorded that the entries obey: then no revision is altered where they follow the model at once. */
export const isUnrecorded = ({ records }: Workspace): boolean =>
  records.revisions.length === 0 && records.contentRevision === undefined;

/**
 * Writes files of the model and every entry that mentions the renamed part: all or nothing, through the journal of a
 * run, so that it can be undone.
 * @returns how many files of entries were written, and how many files or lines could not be read: they stay as they are.
 */
export async function carryEntries(
  call: Call,
  { before, after, files, stated, name }: CarryOptions,
): Promise<{ readonly entries: number; readonly unreadable: number }> {
  const { root, model } = before;
  const [from, to] = [model.definition, after.model.definition];
  const steps = draftSteps(compare(from, to, stated), to, () => undefined);
  const head = {
    number: 1,
    about: name,
    from: before.modelHash,
    to: after.modelHash,
    fromName: 'before',
    toName: 'after',
  };
  const file = migrationIn(name, migrationText(head, steps));
  const planned = planMigration(file.migration.steps, from, to);
  if ('problem' in planned) throw misfitTrouble(file, planned.problem);

  const store = openStore(after);
  const staging = new Staging(root, mendsNumber);
  try {
    const transaction = store.begin(staging);
    const migrating = await prepared(store, planned.value, file, call);
    const staged = stagingPass(staging, transaction, migrating);
    const passes = [staged, unreadablePass()] as const;
    const [, unreadable] = await walk(store, passes, call);
    await transaction.prepare();

    const entries = staging.files.length;
    for (const file of files) {
      const change = wholeFile(root, file);
      if (change) staging.add(change);
    }

    // No model is recorded on either side.
    finishRun(root, staging.begin({ migration: mendsNumber, file: name, from: '', to: '', date: timestamp() }));

    return { entries, unreadable };
  } catch (error) {
    staging.discard();
    throw error;
  }
}

/** Counts what cannot be read as an entry. */
function unreadablePass(): Pass<number> {
  let unreadable = 0;
  return eachEntry({
    see: () => undefined,
    unreadable: () => {
      unreadable += 1;
    },
    finish: () => unreadable,
  });
}

/** A file on its way to the wanted text; nothing where there is none and none is wanted. @throws {Trouble} where it was saved since it was read. */
function wholeFile(root: string, { file, text, from }: WantedChange): WholeFile | undefined {
  const full = path.join(root, file);
  const bytes = fs.existsSync(full) ? fs.readFileSync(full) : undefined;
  const hash = bytes && hashBytes(bytes);
  if (from !== undefined && hash !== (from ?? undefined)) throw savedMeanwhile(file, 'Nothing was written.');
  if (bytes === undefined && text === undefined) return undefined;
  return compact({
    before: bytes && hash !== undefined ? { path: file, hash, bytes } : undefined,
    after: text === undefined ? undefined : { path: file, bytes: Buffer.from(text, 'utf8') },
  });
}
