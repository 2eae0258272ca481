import type { Rule } from '../definition/type.ts';
import type { Type } from '../model/link.ts';
import {
  asCondition,
  type EntryView,
  type Expression,
  ExpressionFailed,
  ExpressionUnjudged,
  expressionsOver,
} from './expression.ts';
import type { ExpressionProblem } from './expressionProblem.ts';

/** A rule with its condition compiled, or why it cannot be. */
export interface CompiledRule {
  readonly rule: Rule;
  readonly compiled: Expression | ExpressionProblem;
}

/** Compiles rules over the entries of a type. A condition must give true or false. */
export function compileRules(
  type: Type,
  rules: readonly Rule[] = type.definition.rules ?? [],
): readonly CompiledRule[] {
  if (rules.length === 0) return [];
  const compile = expressionsOver(type);
  return rules.map((rule) => ({ rule, compiled: asCondition(compile(rule.expect), 'entry.price > 0') }));
}

/**
 * Whether an entry breaks a rule. Where a field that the rule names has no value, or one of another kind than it should,
 * there is nothing to say: that is reported on its own where it matters.
 * @returns the error where the condition ends in one.
 */
export function judgeRule({ compiled }: CompiledRule, entry: EntryView): 'holds' | 'broken' | ExpressionUnjudged {
  if ('problem' in compiled) return 'holds';
  if (compiled.lacks(entry)) return 'holds';
  try {
    if (compiled.evaluate(entry) === false) return 'broken';
    return 'holds';
  } catch (error) {
    if (error instanceof ExpressionUnjudged) return error;
    if (error instanceof ExpressionFailed) return 'holds';
    throw error;
  }
}
