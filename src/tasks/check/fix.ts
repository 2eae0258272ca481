import { z } from 'zod';
import { entryAddressOf, keyOf } from '../../core/entry/entry.ts';
import { type Mend, type MendContext, mendOf } from '../../core/migration/mend.ts';
import type { Operation } from '../../core/migration/operation.ts';
import { grouped } from '../../core/plain/grouped.ts';
import { compact, equal, type Json, parsePointer } from '../../core/plain/json.ts';
import { JsonValue } from '../../core/plain/jsonValue.ts';
import { finishRun } from '../../journal/carryOut.ts';
import { mendsNumber } from '../../journal/plan.ts';
import { refuseInterrupted } from '../../journal/settle.ts';
import { Staging } from '../../journal/staging.ts';
import type { LocatedFinding } from '../../passes/locatedFinding.ts';
import { eachEntry } from '../../passes/pass.ts';
import { entriesOf, walk } from '../../passes/walk.ts';
import { openStore } from '../../stores/open.ts';
import type { EntryStore } from '../../stores/store.ts';
import { timestamp } from '../../workspace/clock.ts';
import type { Workspace } from '../../workspace/open.ts';
import { refuse } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { reading, writing } from '../openForCall.ts';
import { head, resultVersion } from '../result.ts';
import { takenValues } from '../takenValues.ts';
import { Baseline, readBaseline } from './baseline.ts';
import { allFindings, entryCheck } from './entryCheck.ts';
import { filterFindings } from './findingFilter.ts';

const FixOf = z.strictObject({
  entry: z.string(),
  file: z.string(),
  /** JSON Pointer (RFC 6901) inside the entry. */
  pointer: z.string(),
  finding: z.string(),
  severity: z.enum(['error', 'warning']),
  /** The problem. */
  says: z.string(),
  /** The value that is wrong; absent where there is none, or where it is the key. */
  before: JsonValue.optional(),
  /** What may be there, the most likely first. Of a key that is wrong: its other name. */
  choices: z.array(JsonValue).min(1),
  isKey: z.boolean(),
  /** Whether it is beyond doubt. What is not is done only where a person chooses it. */
  isSure: z.boolean(),
});
export type FixOf = z.output<typeof FixOf>;

/** The result of `lumbrik check --fix`. */
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
export interface ChosenFix {
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
export async function writeFixes(call: Call, chosen: readonly ChosenFix[]): Promise<FixResult> {
  return writing(call, async (workspace) => {
    const { root } = workspace;
    refuseInterrupted(root);
    const store = openStore(workspace);
    if (!store.can.restoreBytes)
      throw refuse('no-way-back', 'a place where entries are kept cannot restore its content', {
        mend: 'Mend a copy of its entries in a folder or in files of lines.',
      });

    const result = await mendsIn(call, store, workspace);
    const operations = operationsIn(result, chosen);
    if (operations.size === 0) return resultOf(result, chosen, { written: false, files: 0 });

    const staging = new Staging(root, mendsNumber);
    try {
      const transaction = store.begin(staging);
      const changing = eachEntry({
        see: (stored) => {
          staging.see(stored.place.file);
          const mending = operations.get(keyOf(stored.entry));
          return mending && transaction.change({ stored, operations: mending });
        },
        unreadable: ({ place }) => staging.see(place.file),
        finish: () => undefined,
      });
      await walk(store, [changing], call);
      await transaction.prepare();
      const files = staging.files.length;
      const obeyed = workspace.records.contentRevision ?? '';
      const plan = { migration: mendsNumber, file: fixName, from: obeyed, to: obeyed, date: timestamp() };
      finishRun(root, staging.begin(plan));

      return resultOf(result, chosen, { written: true, files });
    } catch (error) {
      staging.discard();
      throw error;
    }
  });
}

/** What a run of mends is called among runs. */
const fixName = 'check --fix';

/** Findings, with what can be done about it. */
interface PendingMends {
  readonly mends: readonly MendOf[];
  readonly waiting: number;
  readonly left: number;
}

/** A finding with what can be done about it. */
interface MendOf extends Mend {
  readonly finding: LocatedFinding;
}

/** What can be done about what a check tells: nothing about declined findings; findings of the baseline are mended too. */
async function mendsIn(call: Call, store: EntryStore, workspace: Workspace): Promise<PendingMends> {
  const [checked] = await walk(store, [await entryCheck(workspace, store)], call);
  const findings = allFindings(workspace, checked);
  const reported = filterFindings(findings, workspace.findings, new Baseline()).findings;
  const mends = await mendsOf(store, workspace, { findings: withoutDoubled(reported, findings), idsOf: checked.idsOf });
  const mended = new Set(mends.map(({ finding }) => finding));
  const baseline = readBaseline(workspace.root);
  const remaining = reported.filter((finding) => !mended.has(finding) && !baseline.takes(finding)).length;
  const otherMends = mends.filter(({ finding }) => finding.finding !== 'not-computed');
  if (otherMends.length === 0) return { mends, waiting: 0, left: remaining };
  return { mends: withoutRepeats(otherMends), waiting: mends.length - otherMends.length, left: remaining };
}

/** Which of two entries of the same address is intended, is a person's business. */
function withoutDoubled(
  findings: readonly LocatedFinding[],
  allFindings: readonly LocatedFinding[],
): readonly LocatedFinding[] {
  const doubled = new Set(allFindings.filter(({ message }) => message === 'duplicate-entry').map(({ entry }) => entry));
  return findings.filter(({ entry }) => !doubled.has(entry));
}

interface FixContext extends Pick<MendContext, 'idsOf'> {
  readonly findings: readonly LocatedFinding[];
}

async function mendsOf(
  store: EntryStore,
  workspace: Workspace,
  { findings, idsOf }: FixContext,
): Promise<readonly MendOf[]> {
  if (findings.length === 0) return [];

  const byEntry = grouped(findings, ({ entry }) => entry);
  const slugs = await takenSlugs(workspace, findings);
  const context = { model: workspace.model, idsOf, isTaken: slugs.isTaken };
  const mends: MendOf[] = [];
  for await (const { entry } of entriesOf(store))
    for (const finding of byEntry.get(keyOf(entry)) ?? []) {
      const mend = mendOf(finding, entry, context);
      if (!mend) continue;
      mends.push({ ...mend, finding });
      for (const choice of mend.choices) slugs.take(finding, choice);
    }

  return mends;
}

/** The slugs that entries have, and those that others are given: of types where one is wanting or malformed. */
async function takenSlugs(workspace: Workspace, findings: readonly LocatedFinding[]) {
  const isAbout = ({ finding }: LocatedFinding): boolean => ['required-missing', 'malformed-slug'].includes(finding);
  const types = findings.flatMap((finding) => (isAbout(finding) ? [entryAddressOf(finding.entry ?? '').type] : []));
  const usedSlugs = new Map<string, ReadonlySet<string>>();
  for (const name of new Set(types)) {
    const type = workspace.model.types.get(name);
    if (type) usedSlugs.set(name, await takenValues(workspace, type));
  }

  const given = new Set<string>();

  return {
    isTaken: (type: string, field: string, value: string): boolean =>
      [given, usedSlugs.get(type)].some((some) => some?.has(`${field} ${value}`)),
    take: ({ pointer }: LocatedFinding, value: Json): void => {
      given.add(`${parsePointer(pointer)[0]} ${String(value)}`);
    },
  };
}

/** Where several findings mend the same place, the first of them does it. */
function withoutRepeats(mends: readonly MendOf[]): readonly MendOf[] {
  const places = new Set<string>();
  return mends.filter(({ finding: { entry, pointer } }) => {
    const place = `${entry} ${pointer}`;
    const isNew = !places.has(place);
    places.add(place);
    return isNew;
  });
}

function operationsIn(
  { mends }: PendingMends,
  chosen: readonly ChosenFix[],
): ReadonlyMap<string, readonly Operation[]> {
  const operations = new Map<string, Operation[]>();
  for (const mend of mends) {
    const choice = choiceOf(mend, chosen);
    if (choice === undefined) continue;
    const key = mend.finding.entry ?? '';
    operations.set(key, [...(operations.get(key) ?? []), ...mend.operations(choice)]);
  }

  return operations;
}

/** What is put there: what a person chose, or what is beyond doubt. */
function choiceOf(mend: MendOf, chosen: readonly ChosenFix[]): Json | undefined {
  const shownFix = fixOf(mend);
  const picked = chosen.find(({ fix }) => fix.entry === shownFix.entry && fix.pointer === shownFix.pointer);
  if (picked) return mend.choices.find((choice) => equal(choice, picked.choice));
  if (!mend.isSure) return undefined;
  return mend.choices[0];
}

function fixOf({ finding: located, before, choices, isKey, isSure }: MendOf): FixOf {
  const { entry = '', file, pointer, finding, severity, says: message } = located;
  return compact({
    entry,
    file,
    pointer,
    finding,
    severity,
    says: message,
    before: before === undefined || isKey ? undefined : (before as FixOf['before']),
    choices: choices as FixOf['choices'],
    isKey,
    isSure,
  });
}

function resultOf(
  mends: PendingMends,
  chosen: readonly ChosenFix[],
  state: { written: boolean; files: number },
): FixResult {
  const [fixes, unsure] = [true, false].map((isDone) =>
    mends.mends
      .filter((mend) => (choiceOf(mend, chosen) !== undefined) === isDone)
      .map((mend): FixOf => {
        const choice = choiceOf(mend, chosen);
        if (choice === undefined) return fixOf(mend);
        return { ...fixOf(mend), choices: [choice as FixOf['choices'][number]] };
      }),
  );
  return {
    lumbrik: resultVersion,
    command: 'check --fix',
    ...state,
    fixes: fixes ?? [],
    unsure: unsure ?? [],
    waiting: mends.waiting,
    left: mends.left,
  };
}
