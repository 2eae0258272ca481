import { z } from 'zod';
import { keyOf } from '../../core/entry/entry.ts';
import type { Finding } from '../../core/entry/findings.ts';
import { wordsOf } from '../../core/messages/words.ts';
import { type Mend, type MendContext, mendOf } from '../../core/migration/mend.ts';
import type { Operation } from '../../core/migration/operation.ts';
import { grouped } from '../../core/plain/grouped.ts';
import { equal, type Json, pointer } from '../../core/plain/json.ts';
import { JsonValue } from '../../core/plain/jsonValue.ts';
import { finishRun } from '../../journal/carryOut.ts';
import { mendsNumber } from '../../journal/plan.ts';
import { refuseInterrupted } from '../../journal/settle.ts';
import { Staging } from '../../journal/staging.ts';
import { CheckAhead } from '../../passes/check.ts';
import { entriesOf, type Pass, walk } from '../../passes/walk.ts';
import { openStore } from '../../stores/open.ts';
import type { EntryStore, Stored } from '../../stores/store.ts';
import { timestamp } from '../../workspace/clock.ts';
import type { Workspace } from '../../workspace/open.ts';
import { refuse } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { reading, writing } from '../enter.ts';
import { head, resultVersion } from '../result.ts';

const FixOf = z.strictObject({
  entry: z.string(),
  file: z.string(),
  /** JSON Pointer (RFC 6901) inside the entry. */
  pointer: z.string(),
  finding: z.string(),
  severity: z.enum(['error', 'warning']),
  /** What is wrong. */
  says: z.string(),
  /** The value that is wrong; absent where there is none, or where it is the key. */
  before: JsonValue.optional(),
  /** What may stand there, the most likely first. Of a key that is wrong: its other name. */
  choices: z.array(JsonValue).min(1),
  isKey: z.boolean(),
  /** Whether it is beyond doubt. What is not is done only where a person chooses it. */
  isSure: z.boolean(),
});
export type FixOf = z.output<typeof FixOf>;

export const FixResult = z.strictObject({
  ...head('check --fix'),
  /** Whether it was written, or only shown. */
  written: z.boolean(),
  /** What is done, or would be: all that is beyond doubt, and what was chosen. */
  fixes: z.array(FixOf),
  /** What a person has to choose. */
  unsure: z.array(FixOf),
  /** How many stored values wait for the rest: what they come to may differ once that is mended. */
  waiting: z.int(),
  /** How many findings are left for which a machine has no mend. */
  left: z.int(),
  /** How many files were written. */
  files: z.int(),
});
export type FixResult = z.output<typeof FixResult>;

/** A choice of a person: which mend, and what of it. */
export interface Chosen {
  readonly fix: FixOf;
  readonly choice: Json;
}

/** What a machine can mend in the entries, shown and not written. */
export async function planFixes(call: Call): Promise<FixResult> {
  const workspace = await reading(call);
  return resultOf(await mendsIn(call, openStore(workspace), workspace), [], { written: false, files: 0 });
}

/**
 * Mends what is beyond doubt, and what was chosen: all or nothing, through the journal of a run, so that it can be taken
 * back.
 */
export async function writeFixes(call: Call, chosen: readonly Chosen[]): Promise<FixResult> {
  return writing(call, async (workspace) => {
    const { root } = workspace;
    refuseInterrupted(root);
    const store = openStore(workspace);
    if (!store.can.restoreBytes)
      throw refuse('no-way-back', 'a place where entries are kept cannot bring back what it held', {
        mend: 'Mend a copy of its entries in a folder or in files of lines.',
      });
    const found = await mendsIn(call, store, workspace);
    const operations = operationsIn(found, chosen);
    if (operations.size === 0) return resultOf(found, chosen, { written: false, files: 0 });
    const staging = new Staging(root, mendsNumber);
    try {
      const transaction = store.begin(staging);
      const changing: Pass<readonly Operation[], undefined> = {
        map: ({ entry }) => operations.get(keyOf(entry)) ?? [],
        fold: (some, stored) => {
          staging.see(stored.place.file);
          return some.length === 0 ? undefined : transaction.change({ of: stored, operations: some });
        },
        unreadable: ({ place }) => staging.see(place.file),
        finish: () => undefined,
      };
      await walk<[undefined]>(store, [changing], call);
      await transaction.prepare();
      const files = staging.files.length;
      const obeyed = workspace.records.contentRevision ?? '';
      const plan = { migration: mendsNumber, file: fixName, from: obeyed, to: obeyed, date: timestamp() };
      finishRun(root, staging.begin(plan));
      return resultOf(found, chosen, { written: true, files });
    } catch (error) {
      staging.discard();
      throw error;
    }
  });
}

/** What a run of mends is called among runs. */
const fixName = 'check --fix';

/** What was found, with what can be done about it. */
interface Found {
  readonly mends: readonly (Mend & { readonly place: Stored['place'] })[];
  readonly waiting: number;
  readonly left: number;
}

async function mendsIn(call: Call, store: EntryStore, { model }: Workspace): Promise<Found> {
  const ahead = await CheckAhead.against(model);
  const gathering: Pass<Stored, readonly Finding[]> = {
    map: (stored) => stored,
    fold: ({ entry, place }) => ahead.see(entry, place),
    finish: () => ahead.findings(),
  };
  const [findings] = await walk<[readonly Finding[]]>(store, [gathering], call);
  const context: MendContext = { model, idsOf: (type) => ahead.idsOf(type) };
  const byEntry = grouped(findings, ({ entry }) => keyOf(entry));
  const mends: Found['mends'][number][] = [];
  const seen = new Set<string>();
  if (byEntry.size > 0)
    for await (const { entry, place } of entriesOf(store)) {
      const key = keyOf(entry);
      // A second entry of the same address is told, and left alone.
      if (seen.has(key)) continue;
      for (const finding of byEntry.get(key) ?? []) {
        seen.add(key);
        const mend = mendOf(finding, entry, context);
        if (mend) mends.push({ ...mend, place });
      }
    }
  const left = findings.length - mends.length;
  const others = mends.filter(({ finding }) => finding.finding !== 'not-computed');
  if (others.length === 0) return { mends, waiting: 0, left };
  return { mends: withoutRepeats(others), waiting: mends.length - others.length, left };
}

/** Where several findings mend the same place, the first of them does it. */
function withoutRepeats(mends: Found['mends']): Found['mends'] {
  const places = new Set<string>();
  return mends.filter(({ finding: { entry, path } }) => {
    const place = `${keyOf(entry)} ${pointer(path)}`;
    const isNew = !places.has(place);
    places.add(place);
    return isNew;
  });
}

function operationsIn({ mends }: Found, chosen: readonly Chosen[]): ReadonlyMap<string, readonly Operation[]> {
  const all = new Map<string, Operation[]>();
  for (const mend of mends) {
    const choice = choiceOf(mend, chosen);
    if (choice === undefined) continue;
    const key = keyOf(mend.finding.entry);
    all.set(key, [...(all.get(key) ?? []), ...mend.operations(choice)]);
  }
  return all;
}

/** What is put there: what a person chose, or what is beyond doubt. */
function choiceOf(mend: Found['mends'][number], chosen: readonly Chosen[]): Json | undefined {
  const told = fixOf(mend);
  const picked = chosen.find(({ fix }) => fix.entry === told.entry && fix.pointer === told.pointer);
  if (picked) return mend.choices.find((one) => equal(one, picked.choice));
  return mend.isSure ? mend.choices[0] : undefined;
}

function fixOf({ finding, before, choices, isSure, operations, place }: Found['mends'][number]): FixOf {
  const [first = ''] = choices;
  const isKey = operations(first).some((operation) => operation.do === 'rename');
  return {
    entry: keyOf(finding.entry),
    file: place.file,
    pointer: pointer(finding.path),
    finding: finding.finding,
    severity: finding.severity,
    says: wordsOf(finding).says,
    ...(before === undefined || isKey ? {} : { before: before as FixOf['before'] }),
    choices: choices as FixOf['choices'],
    isKey,
    isSure,
  };
}

function resultOf(found: Found, chosen: readonly Chosen[], state: { written: boolean; files: number }): FixResult {
  const [fixes, unsure] = [true, false].map((isDone) =>
    found.mends
      .filter((mend) => (choiceOf(mend, chosen) !== undefined) === isDone)
      .map((mend): FixOf => {
        const choice = choiceOf(mend, chosen);
        return choice === undefined ? fixOf(mend) : { ...fixOf(mend), choices: [choice as FixOf['choices'][number]] };
      }),
  );
  return {
    lumbrik: resultVersion,
    command: 'check --fix',
    ...state,
    fixes: fixes ?? [],
    unsure: unsure ?? [],
    waiting: found.waiting,
    left: found.left,
  };
}
