import type { ModelDoc } from '../core/definition/model.ts';
import { type Plan, planMigration } from '../core/migration/plan.ts';
import { readMigration } from '../core/migration/read.ts';
import type { Json } from '../core/plain/json.ts';
import { prepareConversion } from './prepareConversion.ts';

/** A migration as its file says it, with the models on both its sides: plain data. */
export interface MigrationData {
  readonly migration: Json;
  readonly from: ModelDoc;
  readonly to: ModelDoc;
  /** The model whose order of fields new values follow in files. */
  readonly layout: ModelDoc;
}

/** Lays a migration that was proved before over its model again, in whatever thread. */
export async function planAgain({ migration, from, to, layout }: MigrationData): Promise<Plan> {
  await prepareConversion(from, to);
  const read = readMigration(migration);
  if ('problem' in read) throw new Error('a migration that was read before cannot be read again');
  const planned = planMigration(read.value.steps, from, layout);
  if ('problem' in planned) throw new Error(`a migration that was proved does not fit: ${planned.problem.says}`);
  return planned.value;
}
