import { z } from 'zod';
import { findings as catalogue, type FindingName } from '../../core/definition/findingNames.ts';
import { changeFiles } from '../../journal/change.ts';
import type { Checked, Tell } from '../../passes/checked.ts';
import { LocatedFinding } from '../../passes/locatedFinding.ts';
import { walk } from '../../passes/walk.ts';
import { openStore } from '../../stores/open.ts';
import { overlaid } from '../../stores/overlaid.ts';
import type { EntryStore } from '../../stores/store.ts';
import { exitCodes } from '../../workspace/exitCodes.ts';
import { withLock } from '../../workspace/lock.ts';
import type { Workspace } from '../../workspace/open.ts';
import { belowRepository } from '../../workspace/repository.ts';
import { Trouble } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { contentStateOf } from '../contentState.ts';
import { readingMistakes } from '../openForCall.ts';
import { ContentState, head, Mistake, resultVersion } from '../result.ts';
import { Baseline, baselineFile, baselineOf, readBaseline } from './baseline.ts';
import { allFindings, entryCheck } from './entryCheck.ts';
import { Declined, type Filtered, FindingFilter } from './findingFilter.ts';
import { isSelective, type Selection, select, selectedBy } from './selection.ts';

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
  /** Why no entry was asked about, where only some were selected: by a condition, by what changed, or by names. */
  noneSelected: z.enum(['condition', 'changes', 'names']).optional(),
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
  /** Takes what is told while the check lasts, in the order of the store; then the result holds none of it. */
  readonly tell?: Tell | undefined;
}

/** Checks the model, then every entry against it. */
export async function check(call: Call, asked: CheckCall = {}): Promise<CheckResult> {
  const workspace = await readingMistakes(call);
  const { mistakes, root } = workspace;
  if (mistakes.length > 0) return { ...startOf(workspace), ...nothing(), ok: false, mistakes: [...mistakes] };
  const baseline = asked.baseline === true ? new Baseline() : readBaseline(root);
  const telling = new Telling(
    new FindingFilter(workspace.findings, baseline),
    asked.baseline === true ? undefined : asked.tell,
  );
  const found = await findingsIn(call, workspace, asked, telling);
  await telling.take(found.findings);
  const isWhole = !isSelective(asked) && found.isStopped === undefined;
  const recorded =
    asked.baseline === true && found.isStopped === undefined ? await record(root, telling.kept) : undefined;
  const maxWarnings = asked.maxWarnings ?? workspace.findings.maxWarnings;
  const told = checkTold(
    workspace,
    recorded === undefined ? telling.told() : toldOf(telling.kept.filter(isUnreadable), telling.told()),
    { entries: found.entries, maxWarnings },
  );
  return {
    ...told,
    ok: told.ok && found.isStopped === undefined,
    ...(found.entries === 0 && isSelective(asked) ? { noneSelected: selectedBy(asked) } : {}),
    ...(isWhole ? { standing: await contentStateOf(workspace) } : {}),
    gone: isWhole && recorded === undefined ? await shorten(root, baseline) : 0,
    ...(recorded === undefined ? {} : { recorded }),
    ...(found.isStopped ? { stopped: true } : {}),
  };
}

/** What a check tells of entries: what is not taken out, and how much of each there is. */
type Told = Pick<CheckResult, 'findings' | 'summary' | 'declined' | 'ignored' | 'known'>;

const toldOf = (
  findings: readonly LocatedFinding[],
  { declined, ignored, known }: Omit<Filtered, 'findings'>,
): Told => {
  const counts = new Summary();
  for (const one of findings) counts.add(one);
  return { findings: [...findings], summary: counts.all(), declined: [...declined], ignored, known };
};

/** Hands on what is found as it comes, or keeps it for the end; either way it is counted. */
class Telling {
  readonly kept: LocatedFinding[] = [];
  /** What is told while the check lasts, where that is wanted. */
  readonly atOnce: Tell | undefined;
  readonly #filter: FindingFilter;
  readonly #tell: Tell | undefined;
  readonly #counts = new Summary();

  constructor(filter: FindingFilter, tell: Tell | undefined) {
    this.#filter = filter;
    this.#tell = tell;
    this.atOnce = tell && ((findings) => this.take(findings));
  }

  async take(found: readonly LocatedFinding[]): Promise<void> {
    const told = found.flatMap((one) => this.#filter.take(one) ?? []);
    for (const one of told) this.#counts.add(one);
    if (this.#tell) await this.#tell(told);
    else for (const one of told) this.kept.push(one);
  }

  told(): Told {
    const { declined, ...others } = this.#filter.suppressed();
    return { findings: this.kept, summary: this.#counts.all(), declined: [...declined], ...others };
  }
}

/** How many findings of each name there are. */
class Summary {
  readonly #counts = new Map<string, CheckResult['summary'][number]>();

  add({ finding, severity }: LocatedFinding): void {
    const key = `${severity} ${finding}`;
    const before = this.#counts.get(key);
    if (before) before.count += 1;
    else this.#counts.set(key, { finding, severity, count: 1, about: catalogue[finding as FindingName] });
  }

  /** Errors first, then the most frequent. */
  all(): CheckResult['summary'] {
    return [...this.#counts.values()].sort(
      (a, b) => a.severity.localeCompare(b.severity) || b.count - a.count || a.finding.localeCompare(b.finding),
    );
  }
}

/** What a check of all entries tells, of what was found. */
export const checkOf = (
  workspace: Workspace,
  sifted: Filtered,
  counted: { readonly entries: number; readonly maxWarnings: number | undefined },
): CheckResult => checkTold(workspace, toldOf(sifted.findings, sifted), counted);

function checkTold(
  workspace: Workspace,
  told: Told,
  { entries, maxWarnings }: { readonly entries: number; readonly maxWarnings: number | undefined },
): CheckResult {
  const warnings = told.summary.reduce((sum, { severity, count }) => sum + (severity === 'warning' ? count : 0), 0);
  return {
    ...startOf(workspace),
    ok: told.summary.every(({ severity }) => severity === 'warning') && warnings <= (maxWarnings ?? warnings),
    mistakes: [],
    entries,
    ...told,
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
async function findingsIn(call: Call, workspace: Workspace, asked: CheckCall, { atOnce }: Telling): Promise<Found> {
  const store = storeWith(openStore(workspace), asked);
  // What belongs to a part that was asked about shows once all is known.
  const how = isSelective(asked) ? {} : { tell: atOnce, findingsAlone: true };
  const pass = await entryCheck(workspace, store, how);
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
async function record(root: string, findings: readonly LocatedFinding[]): Promise<number> {
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
    const shorter = { file: baselineFile, text: baseline.withoutGone(), from: baseline.hash };
    await withLock(root, () => changeFiles(root, [shorter]));
    return gone;
  } catch (error) {
    // Somebody else is at work, or nothing can be written here: the next check does it.
    if (error instanceof Trouble) return 0;
    throw error;
  }
}
