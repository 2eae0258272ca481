import { renameInExpression } from '../cel/names.ts';
import type { ModelDoc } from '../definition/model.ts';
import { equal, type Json, type JsonObject, own } from '../plain/json.ts';
import { type MigrationStep, readStep } from './read.ts';
import { StepRefused } from './step.ts';

/** Steps that were written for one model, laid over another that went its own way from the same start. */
export interface LaidOver {
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
 * Lays steps over a model to which other steps led: what these renamed or moved is called as it is by now, what they did
 * as well is left out, and what does not go together with them is named.
 * @param taken the steps that led there.
 */
export function layOver(steps: readonly MigrationStep[], taken: readonly MigrationStep[], onto: ModelDoc): LaidOver {
  const laid: LaidStep[] = [];
  const same: number[] = [];
  const refused: LaidOver['refused'][number][] = [];
  let model = onto;
  for (const { number, data, address } of steps) {
    if (taken.some((one) => equal(one.data, data))) {
      same.push(number);
      continue;
    }
    const read = readStep(inNewNames(data, taken), ['steps', laid.length]);
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

/** What of a step is an address, or an expression over an entry of the type that it is about. */
const addresses = [
  'add',
  'drop',
  'rename',
  'move',
  'convert',
  'change',
  'arrange',
  'set',
  'split',
  'join',
  'send',
  'pull',
  'turn',
];
const expressions = ['cel', 'where'];

/** A step with what others renamed or moved called as it is after them. */
function inNewNames(data: JsonObject, taken: readonly MigrationStep[]): JsonObject {
  const verb = Object.keys(data).find((key) => addresses.includes(key)) ?? '';
  const type = String(own(data, verb)).split(/[.:]/u)[0] ?? '';
  const isAddressed = (key: string): boolean =>
    key === verb || (key === 'to' && ['move', 'turn', 'send'].includes(verb)) || key === 'by';
  return Object.fromEntries(
    Object.entries(data).map(([key, value]): [string, Json] => {
      if (typeof value !== 'string') return [key, value];
      if (isAddressed(key)) return [key, taken.reduce(addressAfter, value)];
      return [
        key,
        expressions.includes(key) ? taken.reduce((text, step) => expressionAfter(text, type, step), value) : value,
      ];
    }),
  );
}

/** An address after a step that renamed or moved something. */
function addressAfter(address: string, { kind, address: from, data }: MigrationStep): string {
  const to = String(data.to);
  if (kind.verb === 'move')
    return address === from || address.startsWith(`${from}.`) ? to + address.slice(from.length) : address;
  if (kind.verb !== 'rename') return address;
  const isTaxonomy = from.endsWith(':');
  const now = isTaxonomy ? `${to}:` : from.replace(/[^.:/]+$/u, () => to);
  if (isTaxonomy) return address.startsWith(from) ? now + address.slice(from.length) : address;
  const rest = address.slice(from.length);
  return address === from || (address.startsWith(from) && /^[.:]/u.test(rest)) ? now + rest : address;
}

/** An expression over an entry of a type, after a field of that was renamed. */
function expressionAfter(source: string, type: string, { kind, address, data }: MigrationStep): string {
  const [owner = '', ...field] = address.split('.');
  return kind.verb === 'rename' && owner === type && field.length > 0
    ? renameInExpression(source, field.join('.'), String(data.to))
    : source;
}
