import { rehearse } from '../../tasks/migration/rehearse.ts';
import { rehearseText } from '../../view/text/migration.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', {
        type: 'string',
        describe: 'Its number or the name of its file; the newest if none is named',
      })
      .example('$0 migration rehearse', 'What would change, what would be lost, and whether the check is clean then'),
  handler: (args) =>
    answer(
      args,
      (call) => rehearse(call, textOf(args.migration)),
      rehearseText,
      ({ ok }) => ok,
    ),
};
export default command;
