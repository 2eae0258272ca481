import type { Type } from '../model/link.ts';
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

/** A field that applies to some entries alone, and the condition for that, compiled. */
export interface Conditional {
  readonly field: string;
  readonly when: string;
  readonly compiled: Expression | ExpressionProblem;
}

/** The fields of a type that apply to some of its entries alone, by name. */
export function conditionalFields(type: Type): ReadonlyMap<string, Conditional> {
  const conditions = [...type.fields.values()].flatMap(({ name, common: { when } }) =>
    when === undefined ? [] : [{ field: name, when }],
  );
  if (conditions.length === 0) return new Map();

  const compile = expressionsOver(type);

  return new Map(
    conditions.map(({ field, when }) => {
      const compiled = asCondition(lookingNowhere(compile(when)), 'entry.form == "tower"');
      return [field, { field, when, compiled }];
    }),
  );
}

/** Whether a field applies to an entry. Where that cannot be reported, since a value that it asks for is missing, it does not. */
export function applies({ compiled }: Conditional, view: EntryView): boolean | ExpressionUnjudged {
  if ('problem' in compiled) return true;
  try {
    return compiled.evaluate(view) === true;
  } catch (error) {
    if (error instanceof ExpressionUnjudged) return error;
    if (error instanceof ExpressionFailed) return false;
    throw error;
  }
}
