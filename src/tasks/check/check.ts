import { z } from 'zod';
import { findings as catalogue, type FindingName } from '../../core/definition/findingNames.ts';
import { severitiesOf } from '../../core/entry/severities.ts';
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

/** The result of `lumbrik check`. */
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
  /** The number of requested entries. */
  entries: z.int(),
  /** Why no entry was requested, where only some were selected: by a condition, by what changed, or by names. */
  noneSelected: z.enum(['condition', 'changes', 'names']).optional(),
  standing: ContentState.optional(),
  findings: z.array(LocatedFinding),
  summary: z.array(
    z.strictObject({ finding: z.string(), severity: z.enum(['error', 'warning']), count: z.int(), about: z.string() }),
  ),
  /** Accepted findings, with the reasons. */
  declined: z.array(Declined),
  /** How many findings the workspace ignores by their name. */
  ignored: z.int(),
  /** How many findings the baseline knows. */
  known: z.int(),
  /** How many of those that the baseline knew are gone; it was shortened by them. */
  gone: z.int(),
  /** How many findings were written into a new baseline, where one was requested. */
  recorded: z.int().optional(),
  /** Whether it was stopped: then only what shows in single entries was looked at, and not in all of them. */
  stopped: z.literal(true).optional(),
  /** The most warnings that are allowed, where there is a limit. */
  maxWarnings: z.int().optional(),
});
export type CheckResult = z.output<typeof CheckResult>;

/** The options of a check. */
export interface CheckCall extends Selection {
  /** Writes everything that is found down as known. */
  readonly baseline?: boolean;
  readonly maxWarnings?: number | undefined;
  /** What `file` holds instead of what is saved. */
  readonly text?: Buffer;
  /** Takes the report while the check lasts, in the order of the store; then the result holds none of it. */
  readonly tell?: Tell | undefined;
}

/** Checks the model, then every entry against it. */
export async function check(call: Call, request: CheckCall = {}): Promise<CheckResult> {
  const workspace = await readingMistakes(call);
  const { mistakes, root } = workspace;
  if (mistakes.length > 0) return { ...startOf(workspace), ...nothing(), ok: false, mistakes: [...mistakes] };

  const baseline = request.baseline === true ? new Baseline() : readBaseline(root);
  const telling = new FindingReporter(
    new FindingFilter(workspace.findings, baseline),
    request.baseline === true ? undefined : request.tell,
  );
  const results = await findingsIn(call, workspace, request, telling);
  await telling.take(results.findings);
  const isWhole = !isSelective(request) && results.isStopped === undefined;
  const recorded =
    request.baseline === true && results.isStopped === undefined ? await record(root, telling.kept) : undefined;
  const maxWarnings = request.maxWarnings ?? workspace.findings.maxWarnings;
  const report = checkTold(
    workspace,
    recorded === undefined ? telling.told() : toldOf(telling.kept.filter(isUnreadable), telling.told()),
    { entries: results.entries, maxWarnings },
  );

  return {
    ...report,
    ok: report.ok && results.isStopped === undefined,
    ...(results.entries === 0 && isSelective(request) ? { noneSelected: selectedBy(request) } : {}),
    ...(isWhole ? { standing: await contentStateOf(workspace) } : {}),
    gone: isWhole && recorded === undefined ? await shorten(root, baseline) : 0,
    ...(recorded === undefined ? {} : { recorded }),
    ...(results.isStopped ? { stopped: true } : {}),
  };
}

/** What a check tells of entries: what is not taken out, and how much of each there is. */
type CheckReport = Pick<CheckResult, 'findings' | 'summary' | 'declined' | 'ignored' | 'known'>;

const toldOf = (
  findings: readonly LocatedFinding[],
  { declined, ignored, known: knownCount }: Omit<Filtered, 'findings'>,
): CheckReport => {
  const counts = new Summary();
  for (const finding of findings) counts.add(finding);
  return { findings: [...findings], summary: counts.all(), declined: [...declined], ignored, known: knownCount };
};

/** Hands on what is found as it comes, or keeps it for the end; either way it is counted. */
class FindingReporter {
  readonly kept: LocatedFinding[] = [];
  /** The report while the check lasts, where that is wanted. */
  readonly atOnce: Tell | undefined;
  readonly #filter: FindingFilter;
  readonly #tell: Tell | undefined;
  readonly #counts = new Summary();

  constructor(filter: FindingFilter, tell: Tell | undefined) {
    this.#filter = filter;
    this.#tell = tell;
    this.atOnce = tell && ((findings) => this.take(findings));
  }

  async take(findings: readonly LocatedFinding[]): Promise<void> {
    const reported = findings.flatMap((finding) => this.#filter.take(finding) ?? []);
    for (const finding of reported) this.#counts.add(finding);
    if (this.#tell) await this.#tell(reported);
    else for (const finding of reported) this.kept.push(finding);
  }

  told(): CheckReport {
    const { declined, ...rest } = this.#filter.suppressed();
    return { findings: this.kept, summary: this.#counts.all(), declined: [...declined], ...rest };
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

/** The report of a check of all entries. */
export const checkOf = (
  workspace: Workspace,
  sifted: Filtered,
  counted: { readonly entries: number; readonly maxWarnings: number | undefined },
): CheckResult => checkTold(workspace, toldOf(sifted.findings, sifted), counted);

function checkTold(
  workspace: Workspace,
  report: CheckReport,
  { entries, maxWarnings }: { readonly entries: number; readonly maxWarnings: number | undefined },
): CheckResult {
  const { errors, warnings } = severitiesOf(report.summary);
  return {
    ...startOf(workspace),
    ok: errors === 0 && warnings <= (maxWarnings ?? warnings),
    mistakes: [],
    entries,
    ...report,
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

interface CheckFindings {
  readonly entries: number;
  readonly findings: readonly LocatedFinding[];
  readonly isStopped?: true;
}

/** Problems of the entries that a call asks about, and how many those are. */
async function findingsIn(
  call: Call,
  workspace: Workspace,
  request: CheckCall,
  { atOnce }: FindingReporter,
): Promise<CheckFindings> {
  const store = storeWith(openStore(workspace), request);
  // What belongs to a part that was asked about shows once all is known.
  const options = isSelective(request) ? {} : { tell: atOnce, findingsAlone: true };
  const pass = await entryCheck(workspace, store, options);
  if (!isSelective(request)) {
    const checked = await walk(store, [pass], call).catch((error: unknown) => {
      if (error instanceof Trouble && error.exit === exitCodes.stopped) return undefined;
      throw error;
    });
    if (!checked) {
      const { looked, findings } = pass.untilNow();
      return { entries: looked, findings, isStopped: true };
    }

    const [checkedAll] = checked;

    return { entries: checkedAll.looked, findings: allFindings(workspace, checkedAll) };
  }

  const selected = await select(request, workspace, store);
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
  const readable = findings.filter((finding) => !isUnreadable(finding));
  await withLock(root, () => changeFiles(root, [{ file: baselineFile, text: baselineOf(readable) }]));
  return readable.length;
}

const isUnreadable = ({ finding }: LocatedFinding): boolean => finding === 'unreadable-file';

/**
 * Takes what is gone out of the baseline: once mended, it is new when it comes again.
 * @returns how many findings that were; none where the baseline cannot be written just now.
 */
async function shorten(root: string, baseline: Baseline): Promise<number> {
  const { gone: goneCount } = baseline;
  if (goneCount === 0) return 0;
  try {
    const shorter = { file: baselineFile, text: baseline.withoutGone(), from: baseline.hash };
    await withLock(root, () => changeFiles(root, [shorter]));
    return goneCount;
  } catch (error) {
    // Somebody else is at work, or nothing can be written here: the next check does it.
    if (error instanceof Trouble) return 0;
    throw error;
  }
}
