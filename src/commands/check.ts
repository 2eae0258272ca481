import { check } from '../tasks/check.ts';
import { checkText } from '../view/text/check.ts';
import { answer, type CommandModule } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .example('$0 check', 'Everything that is wrong, with its place and a way to mend it')
      .example('$0 check --format json', 'The same for a build; exit code 1 where there is an error'),
  handler: (args) =>
    answer(
      args,
      (call) => check(call),
      checkText,
      ({ ok }) => ok,
    ),
};
export default command;
