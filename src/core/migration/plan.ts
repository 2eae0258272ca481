import { byType } from '../check/lookedUpValues.ts';
import { asJson, type ModelDoc } from '../definition/model.ts';
import type { Entry } from '../entry/entry.ts';
import { link, type Model } from '../model/link.ts';
import { siblingsOf } from '../model/nestedFields.ts';
import { equal, isObject, type Json, ownValue, type Path, pointer } from '../plain/json.ts';
import type { Outcome } from '../plain/outcome.ts';
import { quote } from '../plain/words.ts';
import { type Look, type LookedUp, lookUpsInSource, mayLookUp } from '../rules/lookUp.ts';
import { knownTexts } from '../rules/unknownValues.ts';
import { changesBetween, type EntryChange } from './entryChanges.ts';
import { EntryDraft } from './entryDraft.ts';
import type { MigrationStep } from './read.ts';
import { StepRefused, type Taking, type TakingAll } from './step.ts';

/** A migration laid over the model it starts from: every step with the model on both its sides. */
export interface Plan {
  readonly stages: readonly Stage[];
  readonly before: Model;
  readonly after: Model;
  /** The names of the fields, by type, whose values its expressions look up in other entries, as these are before it. */
  readonly looksUp: ReadonlyMap<string, ReadonlySet<string>>;
}

interface Stage {
  readonly step: MigrationStep;
  readonly take: Taking;
  /** The step that has to see all entries before the first changes, if there is one. */
  readonly all: TakingAll | undefined;
  /** The model before it. */
  readonly before: Model;
}

/** A step that does not fit where it stands. */
export interface Misfit {
  readonly step: number;
  readonly key: string | undefined;
  readonly says: string;
  readonly mend: string;
}

/**
 * Lays steps over a model. Stops at the first that does not fit.
 * @param layout the model whose order of fields new values follow in files; recorded models have lost theirs.
 */
export function planMigration(
  steps: readonly MigrationStep[],
  from: ModelDoc,
  layout: ModelDoc = from,
): Outcome<Plan, Misfit> {
  const before = link(from);
  const knownNames = knownTexts(before);
  const orderOf = (type: string, field: string): readonly string[] =>
    Object.keys(siblingsOf(ownValue(layout.types, type)?.fields ?? {}, field));
  const stages: Stage[] = [];
  const looksUp: LookedUp[] = [];
  let model = before;

  for (const step of steps) {
    try {
      const after = link(step.kind.model(step.data, model.definition));
      const taking = step.kind.entries?.(step.data, { before: model, after, orderOf, knownNames }) ?? (() => undefined);
      const allTaking = typeof taking === 'function' ? undefined : taking;
      stages.push({ step, all: allTaking, take: typeof taking === 'function' ? taking : taking.take, before: model });
      looksUp.push(...lookUpsOf(step, before));
      model = after;
    } catch (error) {
      return { problem: misfitOf(error, step) };
    }
  }

  return { value: { stages, before, after: model, looksUp: byType(looksUp, before) } };
}

/** What the expressions of a step look up in other entries. @throws {StepRefused} where these do not have it before. */
function lookUpsOf({ data }: MigrationStep, { types }: Model): readonly LookedUp[] {
  const by = typeof data.by === 'string' ? [fieldLookedUp(data.by, types)] : [];
  const inExpressions = Object.entries(data).flatMap(([key, source]) => {
    if (typeof source !== 'string' || !mayLookUp(source)) return [];

    const lookUps = lookUpsInSource(source, types);
    if (!('problem' in lookUps)) return lookUps;
    throw new StepRefused(
      `in the expression ${quote(source, 80)}, at character ${lookUps.offset + 1}: ${lookUps.problem}`,
      `${lookUps.mend} Other entries are seen as they were before the migration.`,
      key,
      lookUps.offset,
    );
  });

  return [...by, ...inExpressions];
}

/** @throws {StepRefused} where there is no such field before the migration. */
function fieldLookedUp(address: string, types: Model['types']): LookedUp {
  const [type = '', name = ''] = address.split('.');
  const field = types.get(type)?.fields.get(name);
  if (field) return { type, field };
  throw new StepRefused(
    `there is no field \`${address}\` before the migration`,
    'Name it as it was: other entries are seen as they were before.',
    'by',
  );
}

/** A refused step as data; any other error is a fault and goes on. */
function misfitOf(error: unknown, step: MigrationStep): Misfit {
  if (!(error instanceof StepRefused)) throw error;
  return { step: step.number, key: error.key, says: error.message, mend: error.mend };
}

/** What one step did to one entry. */
export interface StepEffect {
  readonly step: number;
  readonly changes: readonly EntryChange[];
  /** How many values it could not carry on. */
  readonly losses: number;
  /** The address that the entry has then, where it is another one. */
  readonly becomes: string | undefined;
  /** The entries that came out of it. */
  readonly newEntries: readonly EntryDraft[];
}

/** An entry taken through all steps. */
export interface Migrated {
  readonly draft: EntryDraft;
  readonly effects: readonly StepEffect[];
  /** The entries that came out of it, taken through the steps that were left. */
  readonly newEntries: readonly EntryDraft[];
}

/**
 * Takes one entry through all steps.
 * @param look looks into other entries, as they were before.
 * @throws {EntryMisfit} where a step cannot be treated as this entry.
 */
export function migrateEntry({ stages, before, after }: Plan, entry: Entry, look?: Look): Migrated {
  const draft = new EntryDraft(entry, before.types.get(entry.type), look);
  const effects: StepEffect[] = [];
  const newEntryDrafts = takeThrough(draft, stages, effects);
  for (const entryDraft of [draft, ...newEntryDrafts]) entryDraft.settle(after.types.get(entryDraft.type));
  return { draft, effects, newEntries: newEntryDrafts };
}

/** Takes an entry through steps, and those that come out of it through the steps behind. @returns these. */
function takeThrough(draft: EntryDraft, stages: readonly Stage[], effects: StepEffect[]): readonly EntryDraft[] {
  const drafts: EntryDraft[] = [];
  for (const [index, stage] of stages.entries()) {
    if (draft.isDeleted) break;
    const newEntryDrafts = takeOnce(draft, stage, effects);
    for (const entryDraft of newEntryDrafts)
      drafts.push(entryDraft, ...takeThrough(entryDraft, stages.slice(index + 1), effects));
  }

  return drafts;
}

function takeOnce(draft: EntryDraft, { step, take }: Stage, effects: StepEffect[]): readonly EntryDraft[] {
  const { fields, type } = draft;
  const lost = draft.losses.length;
  try {
    take(draft);
  } catch (error) {
    throw new EntryMisfit(misfitOf(error, step));
  }

  const newEntryDrafts = draft.takeMade();
  const changes = draft.fields === fields && !draft.isDeleted ? [] : changesBetween(fields, draft);
  const becomes = draft.type === type ? undefined : `${draft.type}/${draft.id}`;
  if (changes.length > 0 || becomes !== undefined || newEntryDrafts.length > 0)
    effects.push({
      step: step.number,
      changes,
      losses: draft.losses.length - lost,
      becomes,
      newEntries: newEntryDrafts,
    });

  return newEntryDrafts;
}

/** The stages of a plan that have to be shown all entries before, in their order: each once those before it were. */
export const stagesThatSeeAll = ({ stages }: Plan): readonly number[] =>
  stages.flatMap(({ all: takingAll }, index) => (takingAll ? [index] : []));

/** Shows an entry to a stage of a plan, as it is before that. @throws {EntryMisfit} */
export function showEntry({ stages, before }: Plan, index: number, entry: Entry, look?: Look): void {
  const draft = new EntryDraft(entry, before.types.get(entry.type), look);
  const newEntryDrafts = takeThrough(draft, stages.slice(0, index), []);
  const stage = stages[index];
  if (!stage?.all) return;

  try {
    for (const entryDraft of [draft, ...newEntryDrafts]) if (!entryDraft.isDeleted) stage.all.see(entryDraft);
  } catch (error) {
    throw new EntryMisfit(misfitOf(error, stage.step));
  }
}

/** All entries were shown to a stage. */
export const allShown = ({ stages }: Plan, index: number): void => stages[index]?.all?.seen();

/** A step cannot be treated as an entry, for example because its expression cannot be computed there. */
export class EntryMisfit extends Error {
  override readonly name = 'EntryMisfit';
  readonly misfit: Misfit;

  constructor(misfit: Misfit) {
    super(misfit.says);
    this.misfit = misfit;
  }
}

/** Where two models that should be the same differ first, in words. `undefined` where they are the same. */
export function firstDivergence(
  reached: ModelDoc,
  expected: ModelDoc,
): { readonly at: string; readonly says: string } | undefined {
  return diverge(asJson(reached), asJson(expected), []);
}

function diverge(
  a: Json | undefined,
  b: Json | undefined,
  path: Path,
): { readonly at: string; readonly says: string } | undefined {
  if (equal(a, b)) return undefined;

  if (isObject(a) && isObject(b)) {
    for (const key of [...new Set([...Object.keys(a), ...Object.keys(b)])].sort()) {
      const difference = diverge(ownValue(a, key), ownValue(b, key), [...path, key]);
      if (difference) return difference;
    }
  }

  const shorten = (value: Json | undefined): string => {
    if (value === undefined) return 'nothing';
    if (isObject(value)) return `a definition (${Object.keys(value).join(', ')})`;
    return quote(value);
  };

  return { at: addressOf(path), says: `the steps lead to ${shorten(a)}, and the model says ${shorten(b)}` };
}

/** A path of the model document as a person knows it: `lighthouse.summary max`. */
function addressOf([section, name, part, inner, ...rest]: Path): string {
  if (section === 'types' && part === 'fields' && inner !== undefined) return [`${name}.${inner}`, ...rest].join(' ');
  if (section === 'types' && name !== undefined)
    return [name, ...[part, inner, ...rest].filter((pathPart) => pathPart !== undefined)].join(' ');
  if (section === 'taxonomies' && part === 'terms' && inner !== undefined)
    return [`${name}:${inner}`, ...rest].join(' ');
  if (section === 'taxonomies' && name !== undefined)
    return [`${name}:`, ...[part].filter((pathPart) => pathPart !== undefined)].join(' ');
  if (section === undefined) return 'the model';
  return pointer([section]).slice(1);
}
