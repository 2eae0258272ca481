import { z } from 'zod';
import { unchanged } from '../core/map/mapChange.ts';
import { mapOf } from '../core/map/modelMap.ts';
import type { Model } from '../core/model/link.ts';
import { fieldsWithin } from '../core/model/nestedFields.ts';
import type { Checked } from '../passes/checked.ts';
import { factsPass } from '../passes/facts.ts';
import { profilePass } from '../passes/profile.ts';
import { walk } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import { timestamp } from '../workspace/clock.ts';
import type { Workspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import { AdviceCounts, AdviceResult, adviceTold, refuseUnknownAdvice } from './advice.ts';
import type { Call } from './call.ts';
import { readBaseline } from './check/baseline.ts';
import { CheckResult, checkOf } from './check/check.ts';
import { allFindings, entryCheck } from './check/entryCheck.ts';
import { filterFindings } from './check/findingFilter.ts';
import { DiffResult, diff } from './diff.ts';
import { MapResult, mapTold, usagePass } from './map.ts';
import { RehearseResult, rehearse } from './migration/rehearse.ts';
import { type MigrationFile, readMigrations } from './migrationFiles.ts';
import { findModel } from './models.ts';
import { readIn, reading } from './openForCall.ts';
import { ProfileResult, profileTold } from './profile.ts';
import { head, resultVersion } from './result.ts';
import { overviewOf } from './show/overview.ts';
import { Overview, SharedShown, TaxonomyShown, TypeShown } from './show/result.ts';
import { showShared } from './show/shared.ts';
import { taxonomyShown } from './show/taxonomy.ts';
import { fieldShown, typeShown } from './show/type.ts';

/** The result of `lumbrik report`. */
export const ReportResult = z.strictObject({
  ...head('report'),
  /** When it was made (RFC 3339). */
  made: z.string(),
  /** The language in which the model is read. */
  language: z.string(),
  overview: Overview,
  /** What changed, where two models are compared. */
  change: DiffResult.optional(),
  /** What the migration between them would do to the entries, where it stands ready and could be rehearsed. */
  rehearsal: RehearseResult.optional(),
  /** Why it could not be. */
  unrehearsed: z.string().optional(),
  map: MapResult,
  types: z.array(TypeShown),
  shared: z.array(SharedShown),
  taxonomies: z.array(TaxonomyShown),
  profile: ProfileResult,
  check: CheckResult,
  advice: AdviceResult,
});
export type ReportResult = z.output<typeof ReportResult>;

/** The options of a report. */
export interface ReportCall {
  /** The models that are compared; where neither is named, the newest revision with the working files if these differ. */
  readonly from?: string | undefined;
  readonly to?: string | undefined;
  readonly language?: string | undefined;
}

/** Everything that there is to tell of a workspace: what its other commands tell, gathered in one walk over the entries. */
export async function report(call: Call, { from, to, language }: ReportCall): Promise<ReportResult> {
  const workspace = await reading(call);
  refuseUnknownAdvice(workspace);
  const read = readIn(workspace, language);

  return {
    lumbrik: resultVersion,
    command: 'report',
    made: timestamp(),
    language: read.readingOrder[0] ?? 'en',
    ...(await modelTold(workspace, read, call)),
    ...(await changeTold(workspace, { from, to }, call)),
  };
}

/** The model in the working files, and how the entries use and obey it. */
async function modelTold(workspace: Workspace, read: Model, call: Call) {
  const { model } = workspace;
  const store = openStore(workspace);
  const counts = new AdviceCounts(model);
  const passes = [
    await entryCheck(workspace, store),
    usagePass(model),
    profilePass(model, [...model.types.keys()]),
    await factsPass(model, counts.see),
  ] as const;
  const [checked, used, profiled] = await walk(store, passes, call);
  const { shared = {} } = model.definition;
  const overview = await overviewOf(workspace, read, checked);
  const names = [shared.kits, shared.fields, shared.kinds].flatMap((part) => Object.keys(part ?? {}));

  return {
    overview,
    map: mapTold(workspace.name, unchanged(mapOf(read)), used),
    types: [...read.types.values()].map((type) => ({
      ...typeShown(read, type, used.entries.get(type.name) ?? 0),
      // A page has room for the inside of objects too.
      fields: fieldsWithin(type.fields).map((field) => fieldShown(field, read)),
    })),
    shared: names.flatMap((name) => showShared({ model: read }, name) ?? []),
    taxonomies: [...read.taxonomies.values()].map((taxonomy) => taxonomyShown(read, counts.usage, taxonomy)),
    profile: profileTold(read, read.readingOrder[0], profiled),
    check: { ...checkResult(workspace, checked), standing: overview.standing },
    advice: adviceTold(workspace, profiled, counts),
  };
}

function checkResult(workspace: Workspace, checked: Checked): CheckResult {
  const { findings, root } = workspace;
  const sifted = filterFindings(allFindings(workspace, checked), findings, readBaseline(root));
  return checkOf(workspace, sifted, { entries: checked.looked, maxWarnings: findings.maxWarnings });
}

/** What changed between two models, and what their migration would do. */
async function changeTold(workspace: Workspace, { from, to }: ReportCall, call: Call) {
  const { records, modelHash, root } = workspace;
  if (from === undefined && (records.revisions.length === 0 || findModel(workspace, 'sealed').hash === modelHash))
    return {};

  const change = await diff(call, from, to);
  const migration = readMigrations(root).find(
    ({ migration }) => migration.from === change.from.hash && migration.to === change.to.hash,
  );
  if (!migration || records.contentRevision !== migration.migration.from) return { change };
  return { change, ...(await rehearsalOf(migration, call)) };
}

/** A report is no place to learn that a migration cannot be rehearsed by getting none. */
async function rehearsalOf({ file }: MigrationFile, call: Call) {
  try {
    return { rehearsal: await rehearse(call, file, { isAside: true }) };
  } catch (error) {
    if (error instanceof Trouble) return { unrehearsed: error.message };
    throw error;
  }
}
