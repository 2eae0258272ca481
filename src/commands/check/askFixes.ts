import type { Call } from '../../tasks/call.ts';
import { type ChosenFix, type FixResult, planFixes, writeFixes } from '../../tasks/check/fix.ts';
import { harmless } from '../../view/harmless.ts';
import { lookFor } from '../../view/look.ts';
import { fixChoices, fixLead, fixMessage, sureText } from '../../view/text/fix.ts';
import type { Asker } from '../ask/asker.ts';
import { asking } from '../ask/asking.ts';

/**
 * Shows the sure fixes, asks about the rest one by one, and once more before anything is written. The others stay as they are;
 * where the input ends, nothing is written.
 */
export async function askFixes(call: Call): Promise<FixResult> {
  const plan = await planFixes(call);
  if (plan.fixes.length + plan.unsure.length === 0) return plan;
  return asking(async (asker) => {
    asker.say(sureText(harmless(plan), lookFor(process.stderr, undefined)));
    const chosen = await chooseAll(plan, asker);
    const total = plan.fixes.length + chosen.length;
    if (asker.isEnded || total === 0) return plan;

    const isWanted = await asker.choose({
      lead: '\n',
      message: `Write ${total === 1 ? 'it' : `all ${total}`}?`,
      choices: [
        { value: 'no', key: 'n' },
        { value: 'yes', key: 'y' },
      ],
    });

    if (isWanted !== 'yes') return plan;
    return writeFixes(call, chosen);
  });
}

/** Asks for the value of each uncertain fix. */
async function chooseAll({ unsure }: FixResult, asker: Asker): Promise<readonly ChosenFix[]> {
  const look = lookFor(process.stderr, undefined);
  const chosen: ChosenFix[] = [];
  for (const [index, fix] of unsure.entries()) {
    const answer = await asker.choose({
      lead: fixLead(harmless(fix), { number: index + 1, of: unsure.length }, look),
      message: fixMessage(harmless(fix)),
      // A choice takes on the colour of the chosen value.
      choices: fixChoices(harmless(fix), lookFor(process.stderr, false)).map((shown, index) => ({
        value: String(index),
        key: String(index + 1),
        says: shown,
      })),
      leave: 'leave it as it is',
    });
    const choice = answer === undefined ? undefined : fix.choices[Number(answer)];
    if (choice !== undefined) chosen.push({ fix, choice });
    if (asker.isEnded) break;
  }

  return chosen;
}
