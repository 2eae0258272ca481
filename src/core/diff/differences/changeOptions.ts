import type { JsonObject } from '../../plain/json.ts';
import { withKey } from '../../plain/json.ts';
import { changeStep, type DraftedStep, withSuggestion } from '../draftedStep.ts';
import type { OptionDifference } from '../optionText.ts';
import type { DraftContext, NamedDifference } from './define.ts';

/** The step that gives options of one thing their new values; `null` takes one away. */
export function changeOptions(
  address: string,
  group: readonly (NamedDifference & OptionDifference)[],
  { impactOf, say: describe, takes }: DraftContext,
): DraftedStep {
  const to = group.reduce<JsonObject>((result, { option, after }) => withKey(result, option, after ?? null), {});
  const hits = group.flatMap((option) => impactOf(option) ?? []).filter((impact) => impact.hits > 0);
  const hurt = hits.filter(({ isSettled }) => !isSettled);
  const settled = hits.filter(({ isSettled }) => isSettled).map(({ says: message }) => message);
  const step = changeStep(address, to, { changes: group.map(describe), settled }, hurt);
  const [only, ...rest] = hurt;
  const isLacking = group.some(({ option }) => option === 'required') && rest.length === 0;
  const usual = isLacking ? only?.usual : undefined;
  if (usual !== undefined && takes(address, usual)) return withSuggestion(step, { value: usual });
  return step;
}
