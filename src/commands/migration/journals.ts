import { emptyJournals, journals } from '../../tasks/migration/journals.ts';
import { journalsText } from '../../view/text/journals.ts';
import { answer, type CommandModule } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .option('keep', {
        type: 'number',
        requiresArg: true,
        describe: 'Empty all but the newest runs; emptied runs cannot be undone',
      })
      .example('$0 migration journals', 'Sizes of journals')
      .example('$0 migration journals --keep 2', 'Keep only the last two runs'),
  handler: (args) =>
    answer(
      args,
      (call) => (typeof args.keep === 'number' ? emptyJournals(call, args.keep) : journals(call)),
      journalsText,
    ),
};
export default command;
