import type { Call } from '../tasks/call.ts';
import { type Chosen, type FixResult, planFixes, writeFixes } from '../tasks/check/fix.ts';
import { harmless } from '../view/harmless.ts';
import { lookFor } from '../view/look.ts';
import { fixChoices, fixLead, fixMessage, sureText } from '../view/text/fix.ts';
import type { Asker } from './ask/asker.ts';
import { asking } from './ask/asking.ts';

/**
 * Shows what is sure, asks for the rest one by one, and once more before anything is written. What is left stays as it is;
 * where the input ends, nothing is written.
 */
export async function askFixes(call: Call): Promise<FixResult> {
  const plan = await planFixes(call);
  if (plan.fixes.length + plan.unsure.length === 0) return plan;
  return asking(async (asker) => {
    asker.say(sureText(harmless(plan), lookFor(process.stderr, undefined)));
    const chosen = await chooseAll(plan, asker);
    const all = plan.fixes.length + chosen.length;
    if (asker.isEnded || all === 0) return plan;
    const isWanted = await asker.choose({
      lead: '\n',
      message: `Write ${all === 1 ? 'it' : `all ${all}`}?`,
      choices: [
        { value: 'no', key: 'n' },
        { value: 'yes', key: 'y' },
      ],
    });
    return isWanted === 'yes' ? writeFixes(call, chosen) : plan;
  });
}

/** Asks for each fix that is not sure what is put there. */
async function chooseAll({ unsure }: FixResult, asker: Asker): Promise<readonly Chosen[]> {
  const look = lookFor(process.stderr, undefined);
  const chosen: Chosen[] = [];
  for (const [index, fix] of unsure.entries()) {
    const said = await asker.choose({
      lead: fixLead(harmless(fix), { number: index + 1, of: unsure.length }, look),
      message: fixMessage(harmless(fix)),
      // A choice takes on the colour of what is chosen.
      choices: fixChoices(harmless(fix), lookFor(process.stderr, false)).map((says, at) => ({
        value: String(at),
        key: String(at + 1),
        says,
      })),
      leave: 'leave it as it is',
    });
    const choice = said === undefined ? undefined : fix.choices[Number(said)];
    if (choice !== undefined) chosen.push({ fix, choice });
    if (asker.isEnded) break;
  }
  return chosen;
}
