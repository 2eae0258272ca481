import { check } from '../tasks/check.ts';
import { reports } from '../view/reports/index.ts';
import { checkText, usualLimit } from '../view/text/check.ts';
import { answer, type CommandModule } from './answer.ts';
import { limitOf, limitOption } from './limit.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .option('format', {
        choices: Object.keys(reports),
        describe: 'For a person, or for a program',
      })
      .option('limit', limitOption(`How many findings of each name are printed (${usualLimit}); 0 for all`))
      .example('$0 check', 'Everything that is wrong, with its place and a way to mend it')
      .example('$0 check --format json', 'The same for a build; exit code 1 where there is an error'),
  handler: (args) =>
    answer(
      args,
      (call) => check(call),
      { view: (result, look) => checkText(result, look, limitOf(args.limit)), reports },
      ({ ok }) => ok,
    ),
};
export default command;
