import type { ModelDoc } from '../../core/definition/model.ts';
import { firstDivergence, type Plan, planMigration } from '../../core/migration/plan.ts';
import { readMigration } from '../../core/migration/read.ts';
import { anySize } from '../../core/plain/limits.ts';
import { hashModel } from '../../core/revision/canonical.ts';
import { readYaml } from '../../core/source/yaml.ts';
import { prepareConversion } from '../../passes/prepareConversion.ts';
import type { Workspace } from '../../workspace/open.ts';
import { refuse, Trouble } from '../../workspace/trouble.ts';
import { type MigrationFile, migrationIn, misfitTrouble } from '../migrationFiles.ts';
import { modelObeyed, modelWith } from '../modelOfEntries.ts';
import { asNamed, type NamedModel, workingFiles } from '../models.ts';

/** A migration whose steps were proved to lead from the one model to the other. */
export interface Proved {
  readonly plan: Plan;
  readonly from: NamedModel;
  readonly to: NamedModel;
}

/**
 * Proves a migration: its steps, applied to the older model, give exactly the newer one.
 * @throws {Trouble} with the first place where they do not.
 */
export async function prove(workspace: Workspace, file: MigrationFile): Promise<Proved> {
  const { migration } = file;
  const from = modelObeyed(migration.from, workspace);
  // Where the working files say what is recorded now, it is called by its number; the newest that says so.
  const to = [workingFiles(workspace), ...workspace.records.revisions.map(asNamed)].findLast(
    ({ hash }) => hash === migration.to,
  );
  if (!from)
    throw new Trouble('unknown-model', `${file.file} starts from a model that no revision records`, {
      mend: 'Bring its file in revisions/ back from version control.',
      where: { file: file.file },
    });
  if (!to)
    throw refuse(
      'model-changed',
      `the model changed since ${file.file} was drafted, so the migration leads to a model that is nowhere any more`,
      {
        mend: 'Draft again, which keeps the answers that still hold: lumbrik migration draft',
        where: { file: file.file },
      },
    );

  await prepareConversion(from.definition, to.definition);

  return { plan: provedPlan(file, from, to, workspace.model.definition), from, to };
}

function provedPlan(file: MigrationFile, from: NamedModel, to: NamedModel, layout: ModelDoc): Plan {
  const planned = planMigration(file.migration.steps, from.definition, layout);
  if ('problem' in planned) throw misfitTrouble(file, planned.problem);

  const reached = planned.value.after.definition;
  if (hashModel(reached) === to.hash) return planned.value;

  const divergence = firstDivergence(reached, to.definition);
  throw new Trouble(
    'not-proved',
    `the steps do not lead to ${to.name}: at ${divergence?.at ?? 'the model'}, ${divergence?.says ?? 'they differ'}`,
    {
      mend: 'Correct the steps, or draft again. Nothing was changed.',
      where: { file: file.file },
    },
  );
}

/** The same for a text that was just drafted: a draft that does not prove itself is a fault and is never written. */
export function proveSteps(text: string, file: string, from: NamedModel, to: NamedModel): void {
  const reading = readYaml(text, anySize);
  const read = 'value' in reading ? readMigration(reading.value.data) : reading;
  if (!('value' in read) || !('value' in reading))
    throw new Error(`the drafted migration cannot be read back:\n${text}`);

  const drafted = { file, migration: read.value, hash: '', source: reading.value };
  // Open questions stand for values alone: the models on both sides are settled.
  const planned = planMigration(
    read.value.steps.map((step) => ({ ...step, kind: { ...step.kind, entries: undefined } })),
    from.definition,
  );
  if ('problem' in planned) throw misfitTrouble(drafted, planned.problem);

  const reached = planned.value.after.definition;
  if (hashModel(reached) !== to.hash)
    throw new Error(
      `the drafted migration does not prove itself: ${JSON.stringify(firstDivergence(reached, to.definition))}`,
    );
}

/**
 * The text of a migration after an edit, where it still is one that can be taken: its steps read, and lead to the model.
 * @throws {Trouble} with the problem in it.
 */
export async function checkedText(
  workspace: Workspace,
  { file, migration: { from, to } }: MigrationFile,
  text: string,
): Promise<string> {
  const edited = migrationIn(file, text);
  const [before, right] = [modelObeyed(from, workspace), modelWith(to, workspace)];
  if (before && right) await prepareConversion(before.definition, right.definition);
  if (before && right) provedPlan(edited, before, right, workspace.model.definition);
  return text;
}
