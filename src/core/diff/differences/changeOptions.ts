import type { JsonObject } from '../../plain/json.ts';
import { withKey } from '../../plain/json.ts';
import { changeStep, type DraftedStep, withSuggestion } from '../draftedStep.ts';
import type { OptionDifference } from '../optionText.ts';
import type { DraftContext, Named } from './define.ts';

/** The step that gives options of one thing their new values; `null` takes one away. */
export function changeOptions(
  address: string,
  group: readonly (Named & OptionDifference)[],
  { impactOf, say, takes }: DraftContext,
): DraftedStep {
  const to = group.reduce<JsonObject>((all, { option, after }) => withKey(all, option, after ?? null), {});
  const hits = group.flatMap((one) => impactOf(one) ?? []).filter((one) => one.hits > 0);
  const hurt = hits.filter(({ isSettled }) => !isSettled);
  const settled = hits.filter(({ isSettled }) => isSettled).map(({ says }) => says);
  const step = changeStep(address, to, { said: group.map(say), settled }, hurt);
  const [only, ...others] = hurt;
  const isLacking = group.some(({ option }) => option === 'required') && others.length === 0;
  const usual = isLacking ? only?.usual : undefined;
  return usual !== undefined && takes(address, usual) ? withSuggestion(step, { value: usual }) : step;
}
