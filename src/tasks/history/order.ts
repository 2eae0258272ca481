import path from 'node:path';
import type { ModelDoc } from '../../core/definition/model.ts';
import { compare } from '../../core/diff/compare.ts';
import { ratingOf } from '../../core/diff/impact.ts';
import { draftSteps } from '../../core/migration/draft.ts';
import { type Plan, planMigration, stagesThatSeeAll } from '../../core/migration/plan.ts';
import { type MigrationStep, readStep } from '../../core/migration/read.ts';
import { type Rebased, rebaseSteps } from '../../core/migration/rebase.ts';
import { keptSteps } from '../../core/migration/redraft.ts';
import { compact } from '../../core/plain/json.ts';
import { hashModel } from '../../core/revision/canonical.ts';
import { makeRevision, type Revision } from '../../core/revision/chain.ts';
import { nextVersion } from '../../core/revision/version.ts';
import type { WantedChange } from '../../journal/change.ts';
import { prepareConversion } from '../../passes/prepareConversion.ts';
import { revisionFile } from '../../workspace/revisions.ts';
import { type MigrationFile, migrationFileName } from '../migrationFiles.ts';
import type { Side } from './branchRecords.ts';

/** Two histories that parted after a common revision. */
export interface PartedHistory {
  readonly ours: Side;
  readonly theirs: Side;
  /** The last revision that both have. */
  readonly base: Revision | undefined;
  readonly ownRevisions: readonly Revision[];
  readonly other: readonly Revision[];
}

/** One order for the revisions and migrations of two branches. */
export interface Order {
  readonly revisions: readonly { readonly was: Revision; readonly is: Revision }[];
  readonly migrations: readonly {
    readonly was: MigrationFile;
    readonly is: { readonly file: string; readonly text: string };
    readonly laid: Rebased;
  }[];
  /** The model that all lead to, and the ways to it from the last revision of either side, and from where they parted. */
  readonly last: ModelDoc;
  readonly ways: WaysForward;
}

/** Plans, as far as they lead where they should. */
export interface WaysForward {
  readonly fromOurs: Plan | undefined;
  readonly fromTheirs: Plan | undefined;
  readonly fromBase: Plan | undefined;
  /** What each branch did to the entries that both had. */
  readonly ours: Plan | undefined;
  readonly theirs: Plan | undefined;
}

/** Puts the records of two branches into one order. */
export async function ordered({ ours, theirs, base, ownRevisions, other }: PartedHistory): Promise<Order> {
  const ourMigrations = new Set(ours.migrations.map(({ file, hash }) => `${file} ${hash}`));
  const foreign = theirs.migrations.filter(({ file, hash }) => !ourMigrations.has(`${file} ${hash}`));
  const ownSteps = stepsBetween(base, ownRevisions, ours.migrations);
  const revisions: { was: Revision; is: Revision }[] = [];
  const migrations: Order['migrations'][number][] = [];
  const laidSteps: MigrationStep[] = [];
  let [number, newest] = [
    Math.max(0, ...ours.migrations.map(({ migration }) => migration.number)),
    ownRevisions.at(-1) as Revision,
  ];
  let before = base;
  for (const revision of other) {
    const file = leading(foreign, before, revision);
    await prepareConversion(newest.model, revision.model);
    const laid = rebaseSteps(file?.migration.steps ?? drafted(before, revision), ownSteps, newest.model);
    const comparison = compare(newest.model, laid.model);
    const from = newest;
    if (hashModel(laid.model) !== hashModel(newest.model)) {
      newest = makeRevision({
        revision: newest.revision + 1,
        version: nextVersion(newest.version, ratingOf(comparison)),
        date: revision.date,
        message: revision.message,
        previous: newest.hash,
        model: laid.model,
      });
      revisions.push({ was: revision, is: newest });
    }

    laidSteps.push(...laid.steps.map(({ step }) => step));

    if (file) {
      number += 1;
      migrations.push({
        was: file,
        is: rewritten(file, theirs.texts.get(file.file) ?? '', { number, from, to: newest, laid }),
        laid,
      });
    }

    before = revision;
  }

  const otherSteps = stepsBetween(base, other, theirs.migrations);
  const ways = waysTo(newest.model, { base, ownRevisions, other, ownSteps, otherSteps, laidSteps });

  return { revisions, migrations, last: newest.model, ways };
}

/** The migration that leads from one revision to another, if there is one. */
const leading = (
  files: readonly MigrationFile[],
  from: Revision | undefined,
  to: Revision,
): MigrationFile | undefined =>
  files.find(
    ({ migration }) => from && migration.from === hashModel(from.model) && migration.to === hashModel(to.model),
  );

/** The steps between two revisions that no migration says, since no entry had to change. */
const drafted = (from: Revision | undefined, to: Revision): readonly MigrationStep[] => {
  if (!from) return [];
  return numbered(draftSteps(compare(from.model, to.model), to.model, () => undefined).map(({ data }) => data));
};

const numbered = (steps: readonly Parameters<typeof readStep>[0][]): readonly MigrationStep[] =>
  steps.flatMap((data, index) => {
    const read = readStep(data, ['steps', index]);
    if ('value' in read) return [read.value];
    return [];
  });

function stepsBetween(
  base: Revision | undefined,
  tail: readonly Revision[],
  files: readonly MigrationFile[],
): readonly MigrationStep[] {
  let before = base;
  return tail.flatMap((revision) => {
    const steps = leading(files, before, revision)?.migration.steps ?? drafted(before, revision);
    before = revision;
    return steps;
  });
}

interface Renumbered {
  readonly number: number;
  readonly from: Revision;
  readonly to: Revision;
  readonly laid: Rebased;
}

/** A migration of the other side as it stands behind this one: its number, where it leads from and to, and the steps that are left. */
function rewritten({ file, migration, source }: MigrationFile, text: string, { number, from, to, laid }: Renumbered) {
  const name = path.posix.basename(file, '.yaml').replace(/^\d+-/u, '');
  const line = (key: string, revision: Revision): string =>
    `${key}: ${hashModel(revision.model)} # revision ${revision.revision}`;
  const keptText = keptSteps(
    { text, source, migration },
    laid.steps.map(({ of: total, step }) => ({ number: total, data: step.data })),
  );

  return {
    file: migrationFileName(number, name),
    text: keptText
      .replace(/^migration: .*$/mu, () => `migration: ${number}`)
      .replace(/^from: .*$/mu, () => line('from', from))
      .replace(/^to: .*$/mu, () => line('to', to)),
  };
}

/** The outcome for the files of revisions and migrations. */
export function changesOf(
  { revisions, migrations }: Order,
  { ours, theirs }: { readonly ours: Side; readonly theirs: Side },
): readonly WantedChange[] {
  const texts = new Map<string, string | undefined>();
  for (const file of theirs.texts.keys()) if (!ours.texts.has(file)) texts.set(file, undefined);
  for (const revision of theirs.revisions) texts.set(revisionFile(revision).file, undefined);
  for (const revision of [...ours.revisions, ...revisions.map(({ is: newRevision }) => newRevision)]) {
    const { file, text } = revisionFile(revision);
    texts.set(file, text);
  }

  for (const [file, text] of ours.texts) texts.set(file, text);
  for (const { is: after } of migrations) texts.set(after.file, after.text);

  return [...texts].map(([file, text]) => compact({ file, text }));
}

interface MergeSides extends Pick<PartedHistory, 'base' | 'ownRevisions' | 'other'> {
  readonly ownSteps: readonly MigrationStep[];
  readonly otherSteps: readonly MigrationStep[];
  readonly laidSteps: readonly MigrationStep[];
}

/** The ways to the last model, from this side's, from the other's, and from where they parted. */
function waysTo(
  last: ModelDoc,
  { base, ownRevisions, other, ownSteps, otherSteps, laidSteps }: MergeSides,
): WaysForward {
  const [ours, theirs] = [ownRevisions.at(-1), other.at(-1)];
  const over = theirs && rebaseSteps(ownSteps, laidSteps, theirs.model).steps.map(({ step }) => step);

  const plan = (
    from: Revision | undefined,
    steps: readonly MigrationStep[],
    to: ModelDoc | undefined,
  ): Plan | undefined => {
    const planned = from && to && planMigration(steps, from.model, last);
    // What has to know all entries would see those of both branches.
    if (
      planned &&
      'value' in planned &&
      hashModel(planned.value.after.definition) === hashModel(to) &&
      stagesThatSeeAll(planned.value).length === 0
    )
      return planned.value;
    return undefined;
  };

  return {
    fromOurs: plan(ours, laidSteps, last),
    fromTheirs: plan(theirs, over ?? [], last),
    fromBase: plan(base, [...ownSteps, ...laidSteps], last),
    ours: plan(base, ownSteps, ours?.model),
    theirs: plan(base, otherSteps, theirs?.model),
  };
}
