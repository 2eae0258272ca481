import { z } from 'zod';
import { findings as catalogue, type FindingName } from '../../core/definition/findingNames.ts';
import { changeFiles } from '../../journal/change.ts';
import type { Checked } from '../../passes/check.ts';
import { LocatedFinding } from '../../passes/locatedFinding.ts';
import { walk } from '../../passes/walk.ts';
import { openStore } from '../../stores/open.ts';
import { overlaid } from '../../stores/overlaid.ts';
import type { EntryStore } from '../../stores/store.ts';
import { withLock } from '../../workspace/lock.ts';
import type { Workspace } from '../../workspace/open.ts';
import { belowRepository } from '../../workspace/repository.ts';
import { exitCodes, Trouble } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { contentStateOf } from '../contentState.ts';
import { readingMistakes } from '../enter.ts';
import { ContentState, head, Mistake, resultVersion } from '../result.ts';
import { Baseline, baselineFile, baselineOf, readBaseline } from './baseline.ts';
import { allFindings, entryCheck } from './entryCheck.ts';
import { isSelective, type Selection, select } from './selection.ts';
import { Declined, type Sifted, sift } from './sift.ts';

export const CheckResult = z.strictObject({
  ...head('check'),
  /** Whether there is no mistake, no finding of severity error, and no more warnings than are allowed. */
  ok: z.boolean(),
  /** The path of the workspace below the root of its git repository, with a slash at its end; empty where it is the root, or in none. */
  below: z.string(),
  types: z.int(),
  taxonomies: z.int(),
  /** Mistakes in the model. Where there is any, no entry was looked at. */
  mistakes: z.array(Mistake),
  /** How many entries were asked about. */
  entries: z.int(),
  standing: ContentState.optional(),
  findings: z.array(LocatedFinding),
  summary: z.array(
    z.strictObject({ finding: z.string(), severity: z.enum(['error', 'warning']), count: z.int(), about: z.string() }),
  ),
  /** What is so on purpose, with the reasons. */
  declined: z.array(Declined),
  /** How many findings the workspace ignores by their name. */
  ignored: z.int(),
  /** How many findings the baseline knows. */
  known: z.int(),
  /** How many of those that the baseline knew are gone; it was shortened by them. */
  gone: z.int(),
  /** How many findings were written into a new baseline, where one was asked for. */
  recorded: z.int().optional(),
  /** Whether it was stopped: then only what shows in single entries was looked at, and not in all of them. */
  stopped: z.literal(true).optional(),
  /** The most warnings that are allowed, where there is a limit. */
  maxWarnings: z.int().optional(),
});
export type CheckResult = z.output<typeof CheckResult>;

export interface CheckCall extends Selection {
  /** Writes everything that is found down as known. */
  readonly baseline?: boolean;
  readonly maxWarnings?: number | undefined;
  /** What `file` holds instead of what is saved. */
  readonly text?: Buffer;
}

/** Checks the model, then every entry against it. */
export async function check(call: Call, asked: CheckCall = {}): Promise<CheckResult> {
  const workspace = await readingMistakes(call);
  const { mistakes, root } = workspace;
  if (mistakes.length > 0) return { ...startOf(workspace), ...nothing(), ok: false, mistakes: [...mistakes] };
  const found = await findingsIn(call, workspace, asked);
  const isWhole = !isSelective(asked) && found.isStopped === undefined;
  const baseline = asked.baseline === true ? new Baseline() : readBaseline(root);
  const sifted = sift(found.findings, workspace.findings, baseline);
  const recorded = asked.baseline === true && found.isStopped === undefined ? await record(root, sifted) : undefined;
  const findings = recorded === undefined ? [...sifted.findings] : sifted.findings.filter(isUnreadable);
  const maxWarnings = asked.maxWarnings ?? workspace.findings.maxWarnings;
  const told = checkTold(workspace, { ...sifted, findings }, { entries: found.entries, maxWarnings });
  return {
    ...told,
    ok: told.ok && found.isStopped === undefined,
    ...(isWhole ? { standing: await contentStateOf(workspace) } : {}),
    gone: isWhole && recorded === undefined ? await shorten(root, baseline) : 0,
    ...(recorded === undefined ? {} : { recorded }),
    ...(found.isStopped ? { stopped: true } : {}),
  };
}

/** What a check of all entries tells, of what it found. */
export function checkTold(
  workspace: Workspace,
  { findings, declined, ignored, known }: Sifted,
  { entries, maxWarnings }: { readonly entries: number; readonly maxWarnings: number | undefined },
): CheckResult {
  const warnings = findings.filter(({ severity }) => severity === 'warning').length;
  return {
    ...startOf(workspace),
    ok: warnings === findings.length && warnings <= (maxWarnings ?? warnings),
    mistakes: [],
    entries,
    findings: [...findings],
    summary: summarize(findings),
    declined: [...declined],
    ignored,
    known,
    gone: 0,
    ...(maxWarnings === undefined ? {} : { maxWarnings }),
  };
}

const startOf = ({ root, model }: Workspace) =>
  ({
    lumbrik: resultVersion,
    command: 'check',
    below: belowRepository(root),
    types: model.types.size,
    taxonomies: model.taxonomies.size,
  }) as const;

const nothing = () => ({ entries: 0, findings: [], summary: [], declined: [], ignored: 0, known: 0, gone: 0 });

interface Found {
  readonly entries: number;
  readonly findings: readonly LocatedFinding[];
  readonly isStopped?: true;
}

/** What is wrong with the entries that a call asks about, and how many those are. */
async function findingsIn(call: Call, workspace: Workspace, asked: CheckCall): Promise<Found> {
  const store = storeWith(openStore(workspace), asked);
  const pass = await entryCheck(workspace, store);
  if (!isSelective(asked)) {
    const checked = await walk<[Checked]>(store, [pass], call).catch((error: unknown) => {
      if (error instanceof Trouble && error.exit === exitCodes.stopped) return undefined;
      throw error;
    });
    if (!checked) {
      const { looked, findings } = pass.untilNow();
      return { entries: looked, findings, isStopped: true };
    }
    const [whole] = checked;
    return { entries: whole.looked, findings: allFindings(workspace, whole) };
  }
  const selected = await select(asked, workspace, store);
  const passes = [pass, ...(selected.pass ? [selected.pass] : [])] as const;
  const [checked] = await walk<[Checked, ...unknown[]]>(store, passes, call);
  const { entries, wants } = selected.of(checked);
  return { entries, findings: allFindings(workspace, checked).filter(wants) };
}

/** @throws {Trouble} where a text stands for a file that holds no entry. */
function storeWith(store: EntryStore, { file, text }: CheckCall): EntryStore {
  if (file === undefined || !text) return store;
  const other = overlaid(store, file, text);
  if (other) return other;
  throw new Trouble('no-entry-file', `${file} is no file that holds an entry alone`, {
    mend: 'Name the file that the text is to be saved in: --stdin content/lighthouse/skerry-point.md',
  });
}

/** Writes what was found down as known. @returns how much that is. */
async function record(root: string, { findings }: Sifted): Promise<number> {
  const known = findings.filter((one) => !isUnreadable(one));
  await withLock(root, () => changeFiles(root, [{ file: baselineFile, text: baselineOf(known) }]));
  return known.length;
}

const isUnreadable = ({ finding }: LocatedFinding): boolean => finding === 'unreadable-file';

/**
 * Takes what is gone out of the baseline: once mended, it is new when it comes again.
 * @returns how many findings that were; none where the baseline cannot be written just now.
 */
async function shorten(root: string, baseline: Baseline): Promise<number> {
  const { gone } = baseline;
  if (gone === 0) return 0;
  try {
    await withLock(root, () => changeFiles(root, [{ file: baselineFile, text: baseline.withoutGone() }]));
    return gone;
  } catch (error) {
    // Somebody else is at work, or nothing can be written here: the next check does it.
    if (error instanceof Trouble) return 0;
    throw error;
  }
}

/** How many findings of each name there are: errors first, then the most frequent. */
function summarize(findings: readonly LocatedFinding[]): CheckResult['summary'] {
  const counts = new Map<string, CheckResult['summary'][number]>();
  for (const { finding, severity } of findings) {
    const key = `${severity} ${finding}`;
    const before = counts.get(key)?.count ?? 0;
    counts.set(key, { finding, severity, count: before + 1, about: catalogue[finding as FindingName] });
  }
  return [...counts.values()].sort(
    (a, b) => a.severity.localeCompare(b.severity) || b.count - a.count || a.finding.localeCompare(b.finding),
  );
}
