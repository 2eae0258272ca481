import { wordsIn } from '../definition/wording.ts';
import type { Entry } from '../entry/entry.ts';
import type { Finding } from '../entry/findings.ts';
import type { Field, Type } from '../model/link.ts';
import type { Path } from '../plain/json.ts';
import { usualLimits } from '../plain/limits.ts';
import { type EntryView, type Expression, ExpressionTooCostly, ExpressionUnjudged } from '../rules/expression.ts';
import type { ExpressionProblem } from '../rules/expressionProblem.ts';
import { type CompiledRule, compileRules, judgeRule } from '../rules/rules.ts';
import {
  computedFields,
  countingFields,
  differing,
  eligibilitiesOf,
  storedCounts,
  type Unjudged,
  unmetBy,
} from './eligibility.ts';
import type { GatheredFacts } from './facts.ts';
import { foundIn } from './makeFinding.ts';
import { isPublicAt } from './visibility.ts';

/** Checks what several fields of an entry say together: adds problems to the findings, and what follows to the facts. */
export type CheckCrossField = (entry: Entry, facts: GatheredFacts, findings: Finding[]) => void;

/**
 * Compiles what looks at several fields of an entry at once: rules, computed fields, and the conditions that others put
 * on their targets. `undefined` where nothing does.
 */
export function compileCrossField(
  type: Type,
  languages: readonly string[],
  currentTime: string | undefined,
  conditions: readonly Field[] | undefined,
): CheckCrossField | undefined {
  const judge = judgements(type, languages, 'alone');
  const isPostponed = judgements(type, languages, 'looking') !== undefined;
  const eligibilities = eligibilitiesOf(type, conditions);
  const counted = countingFields(type);
  if (!judge && !isPostponed && eligibilities.length === 0 && counted.length === 0) return undefined;

  return (entry, facts, findings) => {
    const view = viewOf(entry, type, { status: facts.status, currentTime, findings });
    judge?.(view, findings);
    if (isPostponed) facts.postponed = view;
    facts.ineligible = unmetBy(view, eligibilities, unjudgedInto(findings, view));
    facts.counts = storedCounts(view, counted);
  };
}

/** Looks at an entry by what its rules and its computed fields say: adds problems to the findings. */
export type Judge = (view: EntryView, findings: Finding[]) => void;

/**
 * Compiles the rules and the computed fields of a type: those that look at the entry alone, or those that look into
 * others, which is done once all are known. `undefined` where there are none.
 */
export function judgements(type: Type, languages: readonly string[], group: 'alone' | 'looking'): Judge | undefined {
  const isMeant = ({ compiled }: { readonly compiled: Expression | ExpressionProblem }): boolean =>
    ('problem' in compiled || compiled.looksUp.length === 0) === (group === 'alone');
  const rules = [...compileRules(type).entries()].filter(([, rule]) => isMeant(rule));
  const computed = computedFields(type).filter(isMeant);
  if (rules.length === 0 && computed.length === 0) return undefined;

  return (view, findings) => {
    for (const { field, stored, computed: value } of differing(view, computed, unjudgedInto(findings, view)))
      findings.push(
        foundIn(
          view,
          'not-computed',
          { stored, computed: value },
          {
            severity: 'warning',
            path: [field.name],
            value: stored,
            limit: value,
            fix: { set: value },
          },
        ),
      );

    findings.push(...brokenRules(view, rules, languages));
  };
}

const unjudgedInto =
  (findings: Finding[], view: EntryView): Unjudged =>
  (path, origin, source, reason) => {
    findings.push(...unjudged(view, { path, origin, source }, reason));
  };

/** Facts about an entry beside its values. */
interface EntryCircumstances {
  readonly status: EntryView['status'];
  readonly currentTime: string | undefined;
  /** The findings in its fields so far. */
  readonly findings: readonly Finding[];
}

/** An entry as expressions see it. */
export const viewOf = (entry: Entry, type: Type, { status, currentTime, findings }: EntryCircumstances): EntryView => ({
  type: entry.type,
  id: entry.id,
  status,
  isPublic: currentTime === undefined ? undefined : isPublicAt(entry, currentTime),
  fields: withProse(entry, type),
  expressionSteps: entry.expressionSteps,
  ...(findings.length > 0 ? { faulty: findings.flatMap(faultyField) } : {}),
});

const faultyField = ({ severity, path: [field] }: Finding): readonly string[] => {
  if (severity === 'error' && typeof field === 'string') return [field];
  return [];
};

function brokenRules(
  view: EntryView,
  rules: readonly (readonly [index: number, rule: CompiledRule])[],
  languages: readonly string[],
): readonly Finding[] {
  const findings: Finding[] = [];
  for (const [index, compiledRule] of rules) {
    const { rule } = compiledRule;
    const path = rule.at === undefined ? [] : [rule.at];
    const outcome = judgeRule(compiledRule, view);
    if (outcome instanceof ExpressionUnjudged)
      findings.push(
        ...unjudged(view, { path, origin: ['types', view.type, 'rules', index], source: rule.expect }, outcome),
      );

    if (outcome === 'broken')
      findings.push(
        foundIn(
          view,
          'rule-broken',
          { say: wordsIn(rule.say, languages), expect: rule.expect },
          {
            severity: view.status === 'published' ? 'error' : 'warning',
            path,
            limit: rule.expect,
          },
        ),
      );
  }

  return findings;
}

/** An expression of the model, with the path that it shows at in an entry, and the one in the model where it stands. */
interface ModelExpression {
  readonly path: Path;
  readonly origin: Path;
  readonly source: string;
}

/** The finding that an expression cannot be judged on an entry: an error in drafts too. None where its values have findings. */
export function unjudged(
  view: EntryView,
  { path, origin, source }: ModelExpression,
  reason: ExpressionUnjudged,
): readonly Finding[] {
  if (reason.isTold) return [];

  const { expressionSteps: steps = usualLimits.expressionSteps } = view;
  return [
    reason instanceof ExpressionTooCostly
      ? foundIn(view, 'too-costly', { steps, source }, { path, limit: steps, origin })
      : foundIn(view, 'expression-failed', { why: reason.message, source }, { path, origin }),
  ];
}

/** The values of an entry, with its prose as the value of the field that is the body. No field has a reserved name. */
const withProse = ({ values, prose }: Entry, { body }: Type): Entry['values'] => {
  if (body && prose !== undefined) return { ...values, [body.name]: prose };
  return values;
};
