import { z } from 'zod';
import { foundByOption } from '../../core/diff/differences/betweenEntries.ts';
import { keyOf } from '../../core/entry/entry.ts';
import type { Finding } from '../../core/entry/findings.ts';
import { severitiesOf } from '../../core/entry/severities.ts';
import { wordsOf } from '../../core/messages/words.ts';
import { link } from '../../core/model/link.ts';
import { grouped } from '../../core/plain/grouped.ts';
import { compact, equal, type Json, ownValue, pointer } from '../../core/plain/json.ts';
import { aheadPass, type FoundAhead } from '../../passes/ahead.ts';
import { type Circumstances, circumstancesOf } from '../../passes/circumstances.ts';
import { type WalkOptions, walk } from '../../passes/walk.ts';
import { openStore } from '../../stores/open.ts';
import type { EntryStore } from '../../stores/store.ts';
import type { Workspace } from '../../workspace/open.ts';
import type { Call } from '../call.ts';
import { changesBetween } from '../changes.ts';
import { compareAndCount } from '../compareModels.ts';
import { knownRenames } from '../knownRenames.ts';
import { afterAll, waiting } from '../migration/pendingMigrations.ts';
import { readMigrations } from '../migrationFiles.ts';
import { findModel, type NamedModel, workingFiles } from '../models.ts';
import { reading } from '../openForCall.ts';
import { readRenameOptions } from '../renameOptions.ts';
import { Change, head, resultVersion } from '../result.ts';

const CausedFinding = z.strictObject({
  finding: z.string(),
  severity: z.enum(['error', 'warning']),
  entry: z.string(),
  file: z.string(),
  /** JSON Pointer (RFC 6901) inside the entry. */
  pointer: z.string(),
  says: z.string(),
  mend: z.string(),
  /** Whether the pending migration mends it; absent where none is pending. */
  isMended: z.boolean().optional(),
});
export type CausedFinding = z.output<typeof CausedFinding>;

const ChangeWithFindings = z.strictObject({
  /** Absent for findings that no change of the model is plainly about. */
  change: Change.optional(),
  errors: z.int(),
  warnings: z.int(),
  /** How many of them the pending migration mends. */
  mended: z.int(),
  /** The worst first: errors that are not mended. */
  findings: z.array(CausedFinding),
});
export type ChangeWithFindings = z.output<typeof ChangeWithFindings>;

/** The result of `lumbrik check --since`. */
export const SinceResult = z.strictObject({
  ...head('check --since'),
  /** Whether the change of the model causes no error that the pending migration would not mend. */
  ok: z.boolean(),
  from: z.string(),
  to: z.string(),
  entries: z.int(),
  changes: z.array(ChangeWithFindings),
  /** How many changes of the model cause nothing. */
  harmless: z.int(),
  /** Findings under the older model that the newer one does not have. */
  gone: z.int(),
  /** The migrations that wait to be run, whose effect was looked at. */
  migrations: z.array(z.string()),
});
export type SinceResult = z.output<typeof SinceResult>;

/** Tells what a change of the model causes: only findings that the entries do not have under an older model. */
export async function checkSince(call: Call, typed: string): Promise<SinceResult> {
  const workspace = await reading(call);
  const [from, to] = [findModel(workspace, typed), workingFiles(workspace)];
  const store = openStore(workspace);
  const circumstances = await circumstancesOf(workspace.root);
  const findingsByChange = await findingsUnder(store, [from, to], circumstances, call);
  const chain = pendingFrom(workspace, from);
  const afterwards =
    chain.length === 0
      ? undefined
      : (await findingsUnder(await afterAll(store, chain, workspace), [to], circumstances, call)).under[0];
  const [before = [], after = []] = findingsByChange.under;
  const caused = without(after, before);
  const remaining = afterwards && new Set(afterwards.map(({ finding }) => nameOf(finding)));
  const { comparison } = await compareAndCount(from, to, undefined, {
    stated: readRenameOptions(knownRenames(workspace.root, [from.definition, to.definition])),
  });
  const changes = changesBetween(comparison);
  const byChange = grouped(caused, ({ finding }) => causeOf(finding, changes));
  const reportedChanges = [...byChange]
    .map(([change, some]) => withFindings(change, some, remaining))
    .sort((a, b) => b.errors - b.mended - (a.errors - a.mended) || b.errors - a.errors || b.warnings - a.warnings);

  return {
    lumbrik: resultVersion,
    command: 'check --since',
    ok: reportedChanges.every(({ findings }) =>
      findings.every(({ severity, isMended }) => severity === 'warning' || isMended === true),
    ),
    from: from.name,
    to: to.name,
    entries: findingsByChange.entries,
    changes: reportedChanges,
    harmless: changes.filter((change) => !byChange.has(change)).length,
    gone: without(before, after).length,
    migrations: chain.map(({ file }) => file),
  };
}

/** The migrations that wait to be run, where the entries obey the model that is compared with. */
function pendingFrom(workspace: Workspace, from: NamedModel) {
  const { contentRevision } = workspace.records;
  if (contentRevision !== from.hash) return [];
  return waiting(readMigrations(workspace.root), from.hash, workspace);
}

interface Placed {
  readonly finding: Finding;
  readonly file: string;
}

interface Under {
  readonly entries: number;
  /** What is found under each model. */
  readonly under: readonly (readonly Placed[])[];
}

/** Problems of the entries of a store under some models, in one walk. */
async function findingsUnder(
  store: EntryStore,
  models: readonly NamedModel[],
  circumstances: Circumstances,
  options: WalkOptions,
): Promise<Under> {
  const passes = models.map(({ definition }) => aheadPass(link(definition), circumstances));
  const results = await walk<FoundAhead[]>(store, passes, options);
  return {
    entries: results[0]?.entries ?? 0,
    under: results.map(({ findings, placeOf }) =>
      findings.map((finding) => ({ finding, file: placeOf(finding.entry)?.file ?? '' })),
    ),
  };
}

/** By what a finding is the same under two models. */
const nameOf = ({ finding, entry, path }: Finding): string => `${finding} ${keyOf(entry)} ${pointer(path)}`;

/** Those that others do not have: of several with one name, as many as there are more. */
function without(some: readonly Placed[], removed: readonly Placed[]): readonly Placed[] {
  const counts = new Map<string, number>();
  for (const { finding } of removed) counts.set(nameOf(finding), (counts.get(nameOf(finding)) ?? 0) + 1);
  return some.filter(({ finding }) => {
    const times = counts.get(nameOf(finding)) ?? 0;
    counts.set(nameOf(finding), times - 1);
    return times <= 0;
  });
}

/** The change that a finding comes from: of several about the same field, the one of the option which it breaks. */
function causeOf(finding: Finding, changes: readonly Change[]): Change | undefined {
  const about = changes.filter((change) => isAbout(change, finding));
  const breaks = ({ option, after }: Change): boolean =>
    option !== undefined &&
    (ownValue(foundByOption, option)?.includes(finding.finding) ??
      (finding.limit !== undefined && equal(after as Json, finding.limit)));

  return about.find(breaks) ?? about[0];
}

/** Whether a change of the model is about what a finding complains of: the field, its type, a taxonomy, a language. */
function isAbout(change: Change, { entry, path, data, by }: Finding): boolean {
  const names = [change.address, ...(change.arrives ?? []), change.before, change.after].filter(
    (value): value is string => typeof value === 'string',
  );
  const keys = path.filter((part) => typeof part === 'string');
  const fields = keys.map((_, end) => `${entry.type}.${keys.slice(0, end + 1).join('.')}`);
  const { taxonomy } = data as { readonly taxonomy?: unknown };
  const addresses = [...fields, by, ...(keys.length === 0 ? [entry.type] : []), `${String(taxonomy)}:`];
  if (names.some((name) => addresses.includes(name))) return true;
  if (typeof taxonomy === 'string' && change.address.startsWith(`${taxonomy}:`)) return true;
  // A name alone: what a rename of a field led from, or to.
  return change.change === 'renamed' && names.some((name) => fields.includes(`${entry.type}.${name}`));
}

function withFindings(
  change: Change | undefined,
  some: readonly Placed[],
  remaining: ReadonlySet<string> | undefined,
): ChangeWithFindings {
  const findings = some.map(({ finding, file }): CausedFinding => {
    const { says: message, mend } = wordsOf(finding);
    const { severity, entry, path } = finding;
    const isMended = remaining && !remaining.has(nameOf(finding));

    return compact({
      finding: finding.finding,
      severity,
      entry: keyOf(entry),
      file,
      pointer: pointer(path),
      says: message,
      mend,
      isMended,
    });
  });
  const rank = ({ severity, isMended }: CausedFinding): number =>
    (severity === 'error' ? 0 : 2) + (isMended === true ? 1 : 0);

  return compact({
    change,
    ...severitiesOf(findings),
    mended: findings.filter(({ isMended }) => isMended === true).length,
    findings: findings.toSorted((a, b) => rank(a) - rank(b)),
  });
}
