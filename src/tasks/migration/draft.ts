import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { isId, parseAddress } from '../../core/definition/address.ts';
import type { DraftedStep } from '../../core/diff/draftedStep.ts';
import { draftSteps, headText, migrationText, nameOf } from '../../core/migration/draft.ts';
import { readMigration } from '../../core/migration/read.ts';
import { redraftedSteps } from '../../core/migration/redraft.ts';
import type { Model } from '../../core/model/link.ts';
import { anySize, usualLimits } from '../../core/plain/limits.ts';
import { slugify } from '../../core/plain/slugify.ts';
import { readYaml } from '../../core/source/yaml.ts';
import { changeFiles, type WantedChange } from '../../journal/change.ts';
import { openStore } from '../../stores/open.ts';
import { readAssets } from '../../workspace/assets.ts';
import { readTextOrRefuse } from '../../workspace/files.ts';
import type { Workspace } from '../../workspace/open.ts';
import { refuse, Trouble } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { compareAndCount } from '../compareModels.ts';
import { knownRenames } from '../knownRenames.ts';
import { type MigrationFile, migrationFileName, readMigrations } from '../migrationFiles.ts';
import { modelWith, obeyedModel } from '../modelOfEntries.ts';
import { asRecorded, findModel, type NamedModel } from '../models.ts';
import { writing } from '../openForCall.ts';
import { type Renames, readRenameOptions } from '../renameOptions.ts';
import { head, resultVersion } from '../result.ts';
import { statedFile } from '../statedChanges.ts';
import { afterAll, waiting } from './pendingMigrations.ts';
import { proveSteps } from './prove.ts';

/** The result of `lumbrik migration draft`. */
export const DraftResult = z.strictObject({
  ...head('migration draft'),
  file: z.string(),
  number: z.int(),
  from: z.string(),
  to: z.string(),
  steps: z.array(
    z.strictObject({
      verb: z.string(),
      address: z.string(),
      why: z.string(),
      open: z.string().optional(),
      how: z.string().optional(),
    }),
  ),
  openQuestions: z.int(),
  /** How many answers of an earlier draft still hold, where there was one. */
  kept: z.int().optional(),
});
export type DraftResult = z.output<typeof DraftResult>;

/** The options of a draft. */
export interface DraftCall extends Renames {
  readonly to?: string;
  readonly name?: string;
  /** Merges of terms, as `topic:bird=birds`: entries that have the one get the other. */
  readonly merges?: readonly string[];
}

/** Drafts the migration from the model that the entries obey to another one, and writes it as a file to be edited. */
export async function draftMigration(
  call: Call,
  { to = 'working', name, merges = [], ...renames }: DraftCall,
): Promise<DraftResult> {
  return writing(call, async (workspace) => {
    const right = asRecorded(findModel(workspace, to), workspace);
    const { chain, start } = await startOf(right, workspace);
    const merging = merges.map((text) => mergeStep(text, workspace.model));
    if (start.hash === right.hash && merging.length === 0) throw nothingToMigrate(start, right);

    const outdated = replacedDraft([start, right], renames, workspace);
    const { text, file, drafted, number, kept } = await draftedAnew(call, workspace, {
      file: outdated,
      sides: [start, right],
      renames: knownRenames(workspace.root, [start.definition, right.definition], {
        stated: renames,
        migration: outdated?.migration,
      }),
      name,
      merging,
      chain,
    });
    if (file !== outdated?.file && fs.existsSync(path.join(workspace.root, file)))
      throw refuse('file-exists', `${file} exists already`, { mend: 'Choose another name: --name …', where: { file } });

    const from = file === outdated?.file ? outdated.hash : null;
    changeFiles(workspace.root, [{ file, text, from }, ...takenOver(workspace.root)]);

    const questions = questionsIn(text);
    const isAsked = (step: string): boolean => outdated === undefined || questions.has(step);

    return {
      lumbrik: resultVersion,
      command: 'migration draft',
      file,
      number,
      from: start.name,
      to: right.name,
      ...(outdated ? { kept } : {}),
      steps: drafted.map((step) => stepResult(step, isAsked)),
      openQuestions: questions.count,
    };
  });
}

const nothingToMigrate = (start: NamedModel, end: NamedModel): Trouble =>
  new Trouble('nothing-to-migrate', `the entries obey ${end.name} already: ${start.name} says the same`, {
    mend: 'Edit the files in model/, then look at lumbrik diff.',
  });

/**
 * The draft that a new one replaces: one between the same models, or one whose working files are others now.
 * @throws Trouble where there is one between the same models, and no rename was stated that it lacks.
 */
function replacedDraft(
  [start, end]: readonly [NamedModel, NamedModel],
  { renamed = [], moved = [], notRenamed = [] }: Renames,
  workspace: Workspace,
): MigrationFile | undefined {
  const migrations = readMigrations(workspace.root);
  const same = migrations.find(({ migration: { from, to } }) => from === start.hash && to === end.hash && from !== to);
  const isStated = renamed.length + moved.length + notRenamed.length > 0;
  if (same && !isStated)
    throw refuse('drafted-already', `${same.file} already leads from ${start.name} to ${end.name}`, {
      mend: 'Answer its questions (lumbrik migration answer), edit that file, or draft again with --renamed, --moved or --not-renamed.',
      where: { file: same.file },
    });

  return same ?? migrations.find((other) => isOutdated(other, start, workspace));
}

/** A step as a result shows it, with its question where that is still open. */
function stepResult(
  { data, why, open }: DraftedStep,
  isAsked: (step: string) => boolean,
): DraftResult['steps'][number] {
  const [verb = '', address = ''] = Object.entries(data)[0] ?? [];
  const shown = { verb, address: String(address), why };
  if (!open || !isAsked(`${verb} ${String(address)}`)) return shown;

  return { ...shown, open: open.question, how: open.how };
}

/** What was stated of renames and moves is stated by the steps now. */
const takenOver = (root: string): readonly WantedChange[] => {
  if (!fs.existsSync(path.join(root, statedFile))) return [];
  return [{ file: statedFile }];
};

/** Where a migration starts: where the entries stand, or where those end that wait to be run. */
async function startOf(to: NamedModel, workspace: Workspace) {
  const obeyed = await obeyedModel(workspace);
  const waitingFiles = waiting(readMigrations(workspace.root), obeyed.hash, workspace);
  const end = waitingFiles.findIndex(({ migration }) => migration.to === to.hash);
  const chain = end < 0 ? waitingFiles : waitingFiles.slice(0, end);
  return { chain, start: modelWith(chain.at(-1)?.migration.to ?? obeyed.hash, workspace) ?? obeyed };
}

/** Whether a migration was drafted from where the entries are to working files that are others now. */
function isOutdated({ migration }: MigrationFile, before: NamedModel, workspace: Workspace): boolean {
  return (
    migration.from === before.hash &&
    migration.from !== migration.to &&
    modelWith(migration.to, workspace) === undefined
  );
}

interface DraftOptions {
  /** The file of the migration that is drafted anew; absent where there is none yet. */
  readonly file: MigrationFile | undefined;
  readonly sides: readonly [from: NamedModel, to: NamedModel];
  readonly renames: Renames;
  readonly name?: string | undefined;
  readonly merging?: readonly DraftedStep[];
  /** Migrations that are run before it: entries are looked at as they are then. */
  readonly chain?: readonly MigrationFile[];
}

/** Drafts the steps from one model to another, and keeps of a file what still holds. */
export async function draftedAnew(
  call: Call,
  workspace: Workspace,
  { file: old, sides: [before, right], renames, name, merging = [], chain = [] }: DraftOptions,
) {
  const apart = [...new Set([...(old?.migration.apart ?? []), ...(renames.notRenamed ?? [])])];
  const stated = readRenameOptions({ ...renames, notRenamed: apart });
  const on = {
    store: await afterAll(openStore(workspace), chain, workspace),
    assets: await readAssets(workspace.root),
  };
  const { comparison, impactOf } = await compareAndCount(before, right, on, { stated, watch: call.watch });
  const drafted = [...draftSteps(comparison, right.definition, impactOf), ...merging];
  const numbers = readMigrations(workspace.root).map(({ migration }) => migration.number);
  const number = old?.migration.number ?? Math.max(0, ...numbers) + 1;
  const slug = slugify(name ?? '') || nameOf(drafted);
  const about = name ?? old?.migration.about ?? slug.replaceAll('-', ' ');
  const heading = {
    number,
    about,
    from: before.hash,
    to: right.hash,
    fromName: before.name,
    toName: right.name,
    apart,
  };
  const file = old?.file ?? migrationFileName(number, slug);
  const steps = old
    ? redraftedSteps(
        { ...old, text: readTextOrRefuse(path.join(workspace.root, old.file), old.file, usualLimits) },
        drafted,
      )
    : undefined;
  const fresh = steps === undefined ? migrationText(heading, drafted) : headText(heading, 0, steps === '') + steps;
  const text = steps === undefined ? fresh : headText(heading, questionsIn(fresh).count, steps === '') + steps;

  proveSteps(text, file, before, right);
  const keptAnswers = old ? drafted.filter(({ open }) => open !== undefined).length - questionsIn(text).count : 0;

  return { text, file, drafted, number, kept: keptAnswers };
}

/** The questions that are open in the text of a migration. */
function questionsIn(text: string): { readonly count: number; readonly has: (step: string) => boolean } {
  const reading = readYaml(text, anySize);
  const read = 'value' in reading ? readMigration(reading.value.data) : undefined;
  const asking = read && 'value' in read ? read.value.steps.filter(({ open }) => open !== undefined) : [];
  const names = new Set(asking.map(({ kind, address }) => `${kind.verb} ${address}`));
  return { count: asking.length, has: (step) => names.has(step) };
}

/** A merge of two terms of an open taxonomy, whose terms are content, as a step. @throws {Trouble} */
function mergeStep(text: string, { taxonomies }: Model): DraftedStep {
  const [from = '', use = '', ...more] = text.split('=');
  const address = parseAddress(from);
  const taxonomy = address?.what === 'term' ? taxonomies.get(address.taxonomy) : undefined;
  if (address?.what !== 'term' || !taxonomy?.isOpen || !isId(use) || more.length > 0)
    throw new Trouble('malformed-merge', `--merge ${text} names no two terms of an open taxonomy`, {
      mend:
        taxonomy && !taxonomy.isOpen
          ? 'In a closed taxonomy, remove the term from the model and draft: the draft asks what its entries get.'
          : 'Write --merge topic:bird=birds',
    });

  const term = address.term;

  return {
    data: { drop: `${address.taxonomy}:${term}`, use },
    why: `Entries that have ${term} get ${use}. The terms of an open taxonomy are content: the model stays as it is.`,
  };
}
