import fs from 'node:fs';
import path from 'node:path';
import { compile } from '../../core/check/compile.ts';
import { type Entry, keyOf } from '../../core/entry/entry.ts';
import { isError } from '../../core/entry/severities.ts';
import { entryAfter } from '../../core/migration/entriesAfter.ts';
import { EntryMisfit, type Migrated, migrateEntry, type Plan } from '../../core/migration/plan.ts';
import { link, type Model } from '../../core/model/link.ts';
import { equal } from '../../core/plain/json.ts';
import { hashModel } from '../../core/revision/canonical.ts';
import { finishRun } from '../../journal/carryOut.ts';
import { Staging } from '../../journal/staging.ts';
import { eachEntry, type Pass } from '../../passes/pass.ts';
import { walk } from '../../passes/walk.ts';
import { openStore } from '../../stores/open.ts';
import type { EntryStore, FileOfEntry, Transaction, WholeFile } from '../../stores/store.ts';
import { timestamp } from '../../workspace/clock.ts';
import { contentRevisionFile } from '../../workspace/contentRevision.ts';
import { hashBytes } from '../../workspace/files.ts';
import { filesAt, type MergeSides } from '../../workspace/git.ts';
import type { Workspace } from '../../workspace/open.ts';
import type { Call } from '../call.ts';
import { contentRevisionChange } from '../migration/run.ts';
import type { Order, WaysForward } from './order.ts';

/** Brings every entry forward that does not obey the last model, by the first way that makes it right. */
export async function bringForward(
  call: Call,
  workspace: Workspace,
  { last, ways, migrations }: Order,
  sides: MergeSides,
) {
  const { root } = workspace;
  const tries = [ways.fromOurs, ways.fromTheirs, ways.fromBase].filter((way) => way !== undefined);
  const isRight = rightIn(link(last));
  const staging = new Staging(root, numberOf(migrations));
  try {
    const store = openStore(workspace);
    const transaction = store.begin(staging);
    const [brought] = await walk(store, [forwardPass(staging, transaction, { tries, isRight })], call);
    const { remaining, conflicted } = brought;
    let { entries } = brought;
    await transaction.prepare();

    for (const file of new Set(conflicted)) {
      const become = settled({ root, store, sides, ways, isRight }, file);
      if (become) staging.add(become);
      else remaining.push(file);
      if (become) entries += 1;
    }

    carryForward(root, staging, { last, migrations, isWhole: remaining.length === 0 });
    return { entries, left: remaining };
  } catch (error) {
    staging.discard();
    throw error;
  }
}

/** How entries come to obey the last model. */
interface Forwarding {
  /** The ways to try, the best first. */
  readonly tries: readonly Plan[];
  readonly isRight: (entry: Entry) => boolean;
}

/** What was brought forward. */
interface Brought {
  /** How many entries. */
  readonly entries: number;
  /** The addresses of entries that no way makes right. */
  readonly remaining: string[];
  /** Files that cannot be read as entries. */
  readonly conflicted: readonly string[];
}

/** Stages each entry that a way brings forward. */
function forwardPass(staging: Staging, transaction: Transaction, { tries, isRight }: Forwarding): Pass<Brought> {
  const remaining: string[] = [];
  const conflicted: string[] = [];
  let entries = 0;

  return eachEntry({
    see: (stored) => {
      staging.see(stored.place.file);
      if (isRight(stored.entry)) return undefined;

      const migrated = forward(stored.entry, tries, isRight);
      if (!migrated) remaining.push(keyOf(stored.entry));
      if (!migrated || migrated.draft.operations.length === 0) return undefined;

      entries += 1;
      return transaction.change({ stored, operations: migrated.draft.operations });
    },
    unreadable: ({ place }) => {
      staging.see(place.file);
      conflicted.push(place.file);
    },
    finish: () => ({ entries, remaining, conflicted }),
  });
}

interface Forward extends Pick<Order, 'last' | 'migrations'> {
  /** Whether all entries obey the last model now. */
  readonly isWhole: boolean;
}

/** Writes staged files, as a run that is never taken back; nothing where an earlier call wrote all of it. */
function carryForward(root: string, staging: Staging, { last, migrations, isWhole }: Forward): void {
  const hash = hashModel(last);
  const obeyed = contentRevisionChange(root, hash);
  const isWritten = obeyed.after !== undefined && obeyed.before?.hash === hashBytes(obeyed.after.bytes);
  if (isWhole && !isWritten) staging.add(obeyed);
  if (staging.files.length === 0) {
    staging.discard();
    return;
  }

  const file = migrations.at(-1)?.is.file ?? contentRevisionFile;
  const plan = {
    migration: numberOf(migrations),
    file,
    from: hash,
    to: hash,
    date: timestamp(),
    merges: true,
  } as const;
  finishRun(root, staging.begin(plan));
}

/** The number of the last of some migrations; nought where there is none. */
const numberOf = (migrations: Order['migrations']): number =>
  Number.parseInt(path.posix.basename(migrations.at(-1)?.is.file ?? '0'), 10);

/** Whether an entry obeys a model, as far as it says so alone. */
function rightIn(model: Model): (entry: Entry) => boolean {
  const checker = compile(model);
  return (entry) => model.types.has(entry.type) && !checker.check(entry).findings.some(isError);
}

interface Settling {
  readonly root: string;
  readonly store: EntryStore;
  readonly sides: MergeSides;
  readonly ways: WaysForward;
  readonly isRight: (entry: Entry) => boolean;
}

/**
 * A file that git could not merge, where one of the branches did nothing to it but migrate it: then the other one's
 * version comes forward. `undefined` where both edited it, which is for a person.
 */
function settled({ root, store, sides, ways, isRight }: Settling, file: string): WholeFile | undefined {
  const versions = (['base', 'ours', 'theirs'] as const).map((side) => {
    const bytes = filesAt(root, sides[side], [file]).get(file);
    const read = bytes && store.wholeFile(file, bytes);
    if (read && 'value' in read) return read.value;
    return undefined;
  });
  const [base, ours, theirs] = versions;
  if (!base || !ours || !theirs) return undefined;

  const onlyMigrated = (version: FileOfEntry, way: Plan | undefined): boolean =>
    way !== undefined &&
    equal(entryAfter(base.entry, migrateEntry(way, base.entry).draft).values, version.entry.values);
  const tries = [
    onlyMigrated(theirs, ways.theirs) && ways.fromOurs ? ([ours, ways.fromOurs] as const) : undefined,
    onlyMigrated(ours, ways.ours) && ways.fromTheirs ? ([theirs, ways.fromTheirs] as const) : undefined,
  ];

  for (const attempt of tries) {
    if (!attempt) continue;

    const [version, way] = attempt;
    const migrated = forward(version.entry, [way], isRight);
    const after = migrated && version.rewrite(migrated.draft.operations);
    const bytes = fs.readFileSync(path.join(root, file));
    if (after?.path === file)
      return { before: { path: file, hash: hashBytes(bytes), bytes }, after, entry: keyOf(version.entry) };
  }

  return undefined;
}

function forward(entry: Entry, ways: readonly Plan[], isRight: (entry: Entry) => boolean): Migrated | undefined {
  for (const way of ways) {
    try {
      const migrated = migrateEntry(way, entry);
      if (!migrated.draft.isDeleted && isRight(entryAfter(entry, migrated.draft))) return migrated;
    } catch (error) {
      if (!(error instanceof EntryMisfit)) throw error;
    }
  }

  return undefined;
}
