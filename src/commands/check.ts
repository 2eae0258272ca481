import { check } from '../tasks/check.ts';
import { planFixes, writeFixes } from '../tasks/fix.ts';
import { reports } from '../view/reports/index.ts';
import { checkText, usualLimit } from '../view/text/check.ts';
import { fixText } from '../view/text/fix.ts';
import { isAsking } from './add/ask.ts';
import { answer, type CommandModule } from './answer.ts';
import { askFixes } from './askFixes.ts';
import { limitOf, limitOption } from './limit.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .option('format', {
        choices: Object.keys(reports),
        describe: 'For a person, or for a program',
      })
      .option('limit', limitOption(`How many findings of each name are printed (${usualLimit}); 0 for all`))
      .option('fix', { type: 'boolean', describe: 'Show what a machine can mend, as a difference' })
      .option('yes', { type: 'boolean', implies: 'fix', describe: 'Write what is sure' })
      .option('ask', {
        type: 'boolean',
        implies: 'fix',
        describe: 'Ask for what is not sure, one by one; so it is on a terminal, --no-ask for never',
      })
      .example('$0 check', 'Everything that is wrong, with its place and a way to mend it')
      .example('$0 check --format json', 'The same for a build; exit code 1 where there is an error')
      .example('$0 check --format sarif > found.sarif', 'The same for tools that show it beside the lines')
      .example('$0 check --fix', 'What a machine can mend'),
  handler: (args) => {
    if (args.fix !== true)
      return answer(
        args,
        (call) => check(call),
        { view: (result, look) => checkText(result, look, limitOf(args.limit)), reports },
        ({ ok }) => ok,
      );
    return answer(
      args,
      (call) => {
        if (args.yes === true && args.ask !== true) return writeFixes(call, []);
        return isAsking(args, true) ? askFixes(call) : planFixes(call);
      },
      fixText,
      ({ fixes, unsure, waiting, left, written }) =>
        (written ? 0 : fixes.length) + unsure.length + waiting + left === 0,
    );
  },
};
export default command;
