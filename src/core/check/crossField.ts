import { wordsIn } from '../definition/wording.ts';
import type { Entry, EntryAddress } from '../entry/entry.ts';
import type { Finding } from '../entry/findings.ts';
import type { Field, Type } from '../model/link.ts';
import type { Json, Path } from '../plain/json.ts';
import { limits } from '../plain/limits.ts';
import { groupThousands, quote } from '../plain/words.ts';
import type { EntryView } from '../rules/expression.ts';
import { type CompiledRule, compileRules, judgeRule } from '../rules/rules.ts';
import {
  computedFields,
  countingFields,
  differing,
  eligibilitiesOf,
  ineligibleFor,
  isPublicAt,
  storedCounts,
} from './derived.ts';
import type { Gathered } from './facts.ts';

/** Checks what several fields of an entry say together: adds what is wrong to the findings, and what follows to the facts. */
export type CheckCrossField = (entry: Entry, facts: Gathered, findings: Finding[]) => void;

/**
 * Compiles what looks at several fields of an entry at once: rules, computed fields, and the conditions that others put
 * on what they point at. `undefined` where nothing does.
 */
export function compileCrossField(
  type: Type,
  languages: readonly string[],
  now: string | undefined,
  conditions: readonly Field[] | undefined,
): CheckCrossField | undefined {
  const rules = compileRules(type);
  const eligibilities = eligibilitiesOf(type, conditions);
  const computed = computedFields(type);
  const counted = countingFields(type);
  if ([rules, eligibilities, computed, counted].every(({ length }) => length === 0)) return undefined;
  return (entry, facts, findings) => {
    const view = {
      type: entry.type,
      id: entry.id,
      status: facts.status,
      isPublic: now === undefined ? undefined : isPublicAt(entry, now),
      fields: withProse(entry, type),
    };
    const costly = (path: Path, origin: Path, source: string): void => {
      findings.push(tooCostly(view, path, origin, source));
    };
    for (const { field, stored, computed: value } of differing(view, computed, costly))
      findings.push({
        ...notComputed(entry, [field.name], stored, value),
        mend: `Write ${quote(value)}, or leave it out.`,
      });
    findings.push(...brokenRules(view, rules, languages));
    facts.ineligible = ineligibleFor(view, eligibilities, costly);
    facts.counts = storedCounts(view, counted);
  };
}

/** What is stored is not what it should be by computing, with both values. */
export const notComputed = (
  { type, id }: EntryAddress,
  path: Path,
  stored: Json,
  value: Json,
): Omit<Finding, 'mend'> => ({
  finding: 'not-computed',
  severity: 'warning',
  entry: { type, id },
  path,
  says: `is ${quote(stored)}, and ${quote(value)} is what it comes to`,
  value: stored,
  limit: value,
});

function brokenRules(
  view: EntryView,
  rules: readonly CompiledRule[],
  languages: readonly string[],
): readonly Finding[] {
  const findings: Finding[] = [];
  for (const [index, one] of rules.entries()) {
    const { rule } = one;
    const path = rule.at === undefined ? [] : [rule.at];
    const outcome = judgeRule(one, view);
    if (outcome === 'costly') findings.push(tooCostly(view, path, ['types', view.type, 'rules', index], rule.expect));
    if (outcome === 'broken')
      findings.push({
        finding: 'rule-broken',
        severity: view.status === 'published' ? 'error' : 'warning',
        entry: { type: view.type, id: view.id },
        path,
        says: `breaks a rule: ${wordsIn(rule.say, languages)}`,
        limit: rule.expect,
        mend: `Change the entry so that ${rule.expect}`,
      });
  }
  return findings;
}

/** An expression that was given up on an entry: whether that is fine cannot be told, so it is no matter of drafts. */
const tooCostly = ({ type, id }: EntryView, path: Path, origin: Path, source: string): Finding => ({
  finding: 'too-costly',
  severity: 'error',
  entry: { type, id },
  path,
  says: `takes more than ${groupThousands(limits().expressionSteps)} steps to judge: ${quote(source, 80)} was given up`,
  limit: limits().expressionSteps,
  origin,
  mend: 'Let the expression compare fewer items with each other, or raise `limits: { expressionSteps: … }` in lumbrik.yaml.',
});

/** The values of an entry, with its prose as the value of the field that is the body. No field has a reserved name. */
const withProse = ({ values, prose }: Entry, { body }: Type): Entry['values'] =>
  body && prose !== undefined ? { ...values, [body.name]: prose } : values;
