import { isNone } from '../model/emptiness.ts';
import { typesHaving } from '../model/fieldsOfSort.ts';
import type { Field, Model, Type } from '../model/link.ts';
import { fieldsWithin } from '../model/nestedFields.ts';
import { compact, isObject, type Json, ownValue, type Path } from '../plain/json.ts';
import {
  asCondition,
  type EntryView,
  type Expression,
  ExpressionFailed,
  ExpressionUnjudged,
  expressionsOver,
  lookingNowhere,
} from '../rules/expression.ts';
import type { ExpressionProblem } from '../rules/expressionProblem.ts';
import { celTypeOf, conjunctsOf } from '../rules/judge.ts';

/* ── who may be pointed at ───────────────────────────────────────────────────────────────────────────────────── */

/** A condition that fields put on their targets, compiled over one type of target. */
export interface Eligibility {
  readonly condition: string;
  /** One of the fields that put it. */
  readonly field: Field;
  readonly compiled: Expression | ExpressionProblem;
  /** What all has to hold for it, where it is made of several conditions. */
  readonly parts: readonly Expression[];
}

/** The fields that put a condition on their targets, by the types of their targets: one for each condition. */
export function conditionsByTarget(model: Model): ReadonlyMap<string, readonly Field[]> {
  const byTarget = new Map<string, Map<string, Field>>();
  const asking = typesHaving(model, (field, kind) => kind.pointsAt(field).eligible !== undefined);
  for (const { fields } of asking)
    for (const field of fieldsWithin(fields)) {
      const { types, eligible } = field.kind.pointsAt(field.options);
      if (eligible === undefined) continue;
      for (const type of types.flatMap(model.context.acceptedAs)) {
        const existing = byTarget.get(type) ?? new Map<string, Field>();
        byTarget.set(type, existing.has(eligible) ? existing : existing.set(eligible, field));
      }
    }

  return new Map([...byTarget].map(([type, conditions]) => [type, [...conditions.values()]]));
}

/** The conditions that entries of a type have to meet to be pointed at, compiled. */
export function eligibilitiesOf(type: Type, fields: readonly Field[] = []): readonly Eligibility[] {
  if (fields.length === 0) return [];
  return fields.map((field) => {
    const { types, eligible: condition = '' } = field.kind.pointsAt(field.options);
    const beside = types.flatMap((name) => type.types.get(name) ?? []);
    const compile = expressionsOver(type, 'target', { beside });
    const compiled = asCondition(lookingNowhere(compile(condition)), 'target.status == "published"');
    const parts = conjunctsOf(condition).flatMap((part) => {
      const compiled = compile(part);
      if ('problem' in compiled) return [];
      return [compiled];
    });

    return { condition, field, parts, compiled };
  });
}

/** A condition that an entry does not meet, and the part of it that fails, where it has several. */
export interface Unmet {
  readonly condition: string;
  readonly part?: string;
}

/** The conditions that an entry does not meet. What cannot be shown to be eligible is not. */
export const unmetBy = (view: EntryView, eligibilities: readonly Eligibility[], unjudged: Unjudged): readonly Unmet[] =>
  eligibilities.flatMap(({ condition, compiled, field, parts }) => {
    if ('problem' in compiled) return [];

    const origin = ['types', field.type, 'fields', field.name, 'eligible'];
    const isMet = evaluate(compiled, view, (source, reason) => unjudged([], origin, source, reason)) === true;
    if (isMet) return [];

    // The whole has told already what cannot be judged.
    const fails = (part: Expression): boolean => evaluate(part, view, () => undefined) !== true;
    return [compact({ condition, part: parts.find(fails)?.source })];
  });

/* ── values that follow from others ──────────────────────────────────────────────────────────────────────────── */

/** A stored number that says how many entries point here by a field. */
export interface StoredCount {
  readonly path: Path;
  readonly stored: Json;
  /** The address of the field whose references are counted. */
  readonly of: string;
}

/** A field whose value is computed from others of its entry. */
export interface ComputedField {
  readonly field: Field;
  readonly compiled: Expression | ExpressionProblem;
}

/** The computed fields of a type, compiled. */
export function computedFields(type: Type): readonly ComputedField[] {
  const fields = [...type.fields.values()].flatMap((field) => {
    const { computed } = field.common;
    if (computed && 'cel' in computed) return [{ field, cel: computed.cel }];
    return [];
  });
  if (fields.length === 0) return [];

  const compile = expressionsOver(type);
  return fields.map(({ field, cel }) => ({ field, compiled: ofKind(compile(cel), field) }));
}

function ofKind(compiled: Expression | ExpressionProblem, field: Field): Expression | ExpressionProblem {
  if ('problem' in compiled || compiled.gives === 'dyn' || celTypeOf(field).includes('dyn')) return compiled;

  const isNumber = (type: string): boolean => type === 'int' || type === 'double';
  const expected = celTypeOf(field);
  if (compiled.gives === expected || (isNumber(compiled.gives) && expected === 'double')) return compiled;

  return {
    problem: `it gives ${compiled.gives}, and \`${field.name}\` holds ${expected}`,
    offset: 0,
    mend: expected === 'int' ? 'Round it: `round(…)`.' : 'Let it give what the field holds.',
  };
}

/**
 * A stored value that differs from the computed one, with both. Where a value that it is computed from
 * is missing, there is nothing to compare with.
 */
export function differing(
  view: EntryView,
  computed: readonly ComputedField[],
  unjudged: Unjudged,
): readonly { readonly field: Field; readonly stored: Json; readonly computed: Json }[] {
  return computed.flatMap(({ field, compiled }) => {
    const stored = ownValue(view.fields, field.name);
    if ('problem' in compiled || stored === undefined || isNone(field, stored)) return [];
    const origin = ['types', field.type, 'fields', field.name, 'computed'];
    const value = evaluate(compiled, view, (source, reason) => unjudged([field.name], origin, source, reason));
    if (value === undefined || isSame(stored, value, field)) return [];
    return [{ field, stored, computed: value }];
  });
}

/** Numbers with so many decimal places are the same when they round to the same. */
function isSame(stored: Json, computed: Json, { options }: Field): boolean {
  const places = ownValue(options, 'places');
  if (typeof stored === 'number' && typeof computed === 'number' && typeof places === 'number')
    return stored.toFixed(places) === computed.toFixed(places);
  if (isObject(stored) || Array.isArray(stored)) return JSON.stringify(stored) === JSON.stringify(computed);
  return stored === computed;
}

/** Hears of an expression that cannot be judged: where it shows in the entry, where the model says it, its text, and why. */
export type Unjudged = (path: Path, origin: Path, source: string, reason: ExpressionUnjudged) => void;

function evaluate(
  expression: Expression,
  view: EntryView,
  unjudged: (source: string, reason: ExpressionUnjudged) => void,
): Json | undefined {
  try {
    return expression.evaluate(view);
  } catch (error) {
    if (error instanceof ExpressionUnjudged) unjudged(expression.source, error);
    if (error instanceof ExpressionFailed) return undefined;
    throw error;
  }
}

/** The fields of a type that store how many entries point at theirs. */
export const countingFields = ({ fields }: Type): readonly Field[] =>
  [...fields.values()].filter(({ common: { computed } }) => computed !== undefined && 'count' in computed);

/** The numbers stored in an entry that count the references to it. */
export function storedCounts(view: EntryView, fields: readonly Field[]): readonly StoredCount[] {
  return fields.flatMap((field) => {
    const { name, common } = field;
    const { computed } = common;
    const stored = ownValue(view.fields, name);
    if (!computed || 'cel' in computed || stored === undefined || isNone(field, stored)) return [];
    return [{ path: [name], stored, of: computed.count }];
  });
}
