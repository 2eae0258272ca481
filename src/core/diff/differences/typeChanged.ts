import type { Rule } from '../../definition/type.ts';
import type { Finding } from '../../entry/findings.ts';
import { isList, isObject } from '../../plain/json.ts';
import { count } from '../../plain/words.ts';
import { compileRules, judgeRule } from '../../rules/rules.ts';
import { type Counter, countEntries, share } from '../counter.ts';
import { crossEntryCounter } from '../crossEntryCounter.ts';
import { detailsOfOption, type OptionDifference, sayOption } from '../optionText.ts';
import { changeOptions } from './changeOptions.ts';
import { type ComparedModels, defineDifference } from './define.ts';

/** An option of a type is another one. */
export interface TypeChanged extends OptionDifference {
  readonly name: 'type-changed';
  readonly type: string;
}

/** An option of a type was changed. */
export const typeChanged = defineDifference<TypeChanged>({
  name: 'type-changed',
  address: ({ type }) => type,
  say: sayOption,
  rate: (difference) => {
    if (difference.option === 'single')
      return { entries: difference.after === true ? 'migrate' : 'valid', readers: 'break' };
    return { entries: addedRules(difference).length > 0 ? 'migrate' : 'valid', readers: 'unaffected' };
  },
  count: (difference, models) => {
    if (difference.option !== 'single') return ruleCounter(difference.type, addedRules(difference), models);
    if (difference.after !== true) return undefined;
    return severalCounter(difference.type);
  },
  details: detailsOfOption,
  draft: { step: (group, context) => changeOptions(group[0].type, group, context) },
});

/** The rules that a change of a type brings: those that expect something which none did before. */
function addedRules({ option, before, after }: OptionDifference): readonly Rule[] {
  if (option !== 'rules') return [];
  const expected = new Set((isList(before) ? before : []).map((rule) => (isObject(rule) ? rule.expect : undefined)));
  return (isList(after) ? after : []).flatMap((rule) =>
    isObject(rule) && !expected.has(rule.expect) ? [rule as Rule] : [],
  );
}

/** Entries of a type that shall have exactly one, beyond the first. */
function severalCounter(type: string): Counter {
  let counted = 0;
  return countEntries(
    type,
    () => {
      counted += 1;
      return counted > 1;
    },
    (hits) => `${count(hits, 'entry is', 'entries are')} one too many`,
  );
}

/** Entries that break rules which are new. */
function ruleCounter(type: string, rules: readonly Rule[], models: ComparedModels): Counter | undefined {
  const linked = models.after.types.get(type);
  if (rules.length === 0 || !linked) return undefined;

  const compiled = compileRules(linked, rules);
  const describe = (hits: number, total: number, example: string | undefined): string =>
    `${share(hits, total, ['breaks the new rule', 'break the new rule'])}${rules.length > 1 ? 's' : ''}, for example ${example}`;
  if (compiled.some((compiledRule) => 'looksUp' in compiledRule.compiled && compiledRule.compiled.looksUp.length > 0)) {
    const expected = new Set(rules.map(({ expect }) => expect));
    const concerns = ({ finding, entry, limit }: Finding): boolean =>
      finding === 'rule-broken' && entry.type === type && expected.has(String(limit));
    return crossEntryCounter(models, concerns, describe, (name) => name === type);
  }
  return countEntries(
    type,
    (entry) => compiled.some((rule) => judgeRule(rule, entry) !== 'holds'),
    (hits, total, _worst, [first]) => describe(hits, total, first?.entry),
  );
}
