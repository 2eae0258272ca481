import { renameInExpression } from '../cel/names.ts';
import type { ModelDoc } from '../definition/model.ts';
import { equal, type Json, type JsonObject } from '../plain/json.ts';
import { type MigrationStep, readStep } from './read.ts';
import { StepRefused } from './step.ts';

/** Steps that were written for one model, laid over another that went its own way from the same start. */
export interface Rebased {
  /** Those that can be taken there, as they are then. */
  readonly steps: readonly LaidStep[];
  /** The numbers of those that the other side took as well. */
  readonly same: readonly number[];
  /** Those that cannot be taken there, and why. */
  readonly refused: readonly { readonly number: number; readonly address: string; readonly says: string }[];
  /** The model that they lead to. */
  readonly model: ModelDoc;
}

interface LaidStep {
  /** Which it is of the steps that were laid. */
  readonly of: number;
  readonly step: MigrationStep;
}

/**
 * Lays steps over a model to which other steps led: renamed and moved parts get their new names, steps already done
 * as well is left out, and what does not go together with them is named.
 * @param otherSteps the steps that led there.
 */
export function rebaseSteps(
  steps: readonly MigrationStep[],
  otherSteps: readonly MigrationStep[],
  onto: ModelDoc,
): Rebased {
  const laid: LaidStep[] = [];
  const same: number[] = [];
  const refused: Rebased['refused'][number][] = [];
  let model = onto;
  for (const ownStep of steps) {
    const { number, data, address } = ownStep;
    if (otherSteps.some((other) => equal(other.data, data))) {
      same.push(number);
      continue;
    }

    const read = readStep(inNewNames(ownStep, otherSteps), ['steps', laid.length]);
    if ('problem' in read) {
      refused.push({ number, address, says: read.problem[0]?.says ?? 'it cannot be read' });
      continue;
    }

    const step = read.value;
    try {
      model = step.kind.model(step.data, model);
      laid.push({ of: number, step });
    } catch (error) {
      if (!(error instanceof StepRefused)) throw error;
      refused.push({ number, address, says: error.message });
    }
  }

  return { steps: laid, same, refused, model };
}

/** The keys of a step that hold expressions over an entry of the type that it is about. */
const expressions = ['cel', 'where'];

/** A step with what others renamed or moved called as it is after them. */
function inNewNames({ kind, data, address }: MigrationStep, otherSteps: readonly MigrationStep[]): JsonObject {
  const type = address.split(/[.:]/u)[0] ?? '';
  const isAddressed = (key: string): boolean => key === kind.verb || kind.addresses.includes(key);

  return Object.fromEntries(
    Object.entries(data).map(([key, value]): [string, Json] => {
      if (typeof value !== 'string') return [key, value];
      if (isAddressed(key)) return [key, otherSteps.reduce(addressAfter, value)];
      return [
        key,
        expressions.includes(key) ? otherSteps.reduce((text, step) => expressionAfter(text, type, step), value) : value,
      ];
    }),
  );
}

/** An address after a step that renamed or moved something. */
function addressAfter(address: string, { kind, address: from, data }: MigrationStep): string {
  const newName = kind.leadsTo?.(data);
  if (newName === undefined) return address;
  const rest = address.slice(from.length);
  const isInside = address.startsWith(from) && (from.endsWith(':') || /^[.:]/u.test(rest));
  if (address === from || isInside) return newName + rest;
  return address;
}

/** An expression over an entry of a type, after a field of that was renamed. */
function expressionAfter(source: string, type: string, { kind, address, data }: MigrationStep): string {
  const [owner = '', ...field] = address.split('.');
  if (kind.verb === 'rename' && owner === type && field.length > 0)
    return renameInExpression(source, field.join('.'), String(data.to));
  return source;
}
