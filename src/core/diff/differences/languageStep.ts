import { asJson } from '../../definition/model.ts';
import { compact } from '../../plain/json.ts';
import { type DraftedStep, sentence } from '../draftedStep.ts';
import type { DraftContext, NamedDifference } from './define.ts';

/** All changes of languages become one step, which says anew which there are and what goes for each. */
export const languageKey = (): string => 'languages';

/** The one step for all changes of languages. */
export function languageStep(
  group: readonly NamedDifference[],
  { after, impactOf, say: describe }: DraftContext,
): DraftedStep {
  const data = {
    change: 'languages',
    to: asJson(compact({ languages: after.languages, languageOptions: after.languageOptions })),
  };
  const subject = `Languages: ${group.map(describe).join('; ')}.`;
  const hurt = group.flatMap((difference) => impactOf(difference) ?? []).find(({ hits }) => hits > 0);
  if (!hurt) return { data, why: subject };

  return {
    data,
    why: `${subject} ${sentence(hurt.says)}`,
    open: {
      question: 'Are the values in languages that are gone to be lost, and who writes what is missing?',
      how: 'Delete the line `open` once that is decided. What a language lacks then is listed by the check.',
    },
  };
}
