import readline from 'node:readline/promises';
import type { Call } from '../tasks/call.ts';
import { type Chosen, type FixOf, type FixResult, planFixes, writeFixes } from '../tasks/check/fix.ts';
import { harmless } from '../view/harmless.ts';
import { lookFor } from '../view/look.ts';
import { fixQuestion, sureText } from '../view/text/fix.ts';

/**
 * Shows what is sure, asks for the rest one by one, and once more before anything is written. An empty line leaves one as
 * it is; the end of the input leaves all of them, and nothing is written.
 */
export async function askFixes(call: Call): Promise<FixResult> {
  const plan = await planFixes(call);
  if (plan.fixes.length + plan.unsure.length === 0) return plan;
  const asker = readline.createInterface({ input: process.stdin, output: process.stderr, terminal: false });
  const lines = asker[Symbol.asyncIterator]();
  const look = lookFor(process.stderr, undefined);
  try {
    process.stderr.write(sureText(harmless(plan), look));
    const chosen: Chosen[] = [];
    for (const [index, fix] of plan.unsure.entries()) {
      process.stderr.write(fixQuestion(harmless(fix), { number: index + 1, of: plan.unsure.length }, look));
      const said = await readChoice(fix, lines);
      if (said === 'end') return plan;
      if (said !== 'later') chosen.push(said);
    }
    const all = plan.fixes.length + chosen.length;
    if (all === 0) return plan;
    process.stderr.write(`\nWrite ${all === 1 ? 'it' : `all ${all}`}? y, or Enter for no: `);
    const line = await lines.next();
    return !line.done && /^y/iu.test(line.value.trim()) ? await writeFixes(call, chosen) : plan;
  } finally {
    asker.close();
  }
}

async function readChoice(fix: FixOf, lines: AsyncIterator<string>): Promise<Chosen | 'later' | 'end'> {
  for (;;) {
    const line = await lines.next();
    if (line.done) return 'end';
    const word = line.value.trim();
    if (word === '') return 'later';
    const choice = fix.choices[/^y/iu.test(word) ? 0 : Number(word) - 1];
    if (choice !== undefined) return { fix, choice };
    process.stderr.write(`  Type a number up to ${fix.choices.length}, or Enter to leave it as it is: `);
  }
}
