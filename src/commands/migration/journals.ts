import { emptyJournals, journals } from '../../tasks/migration/journals.ts';
import { journalsText } from '../../view/text/journals.ts';
import { answer, type CommandModule } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .option('keep', {
        type: 'number',
        requiresArg: true,
        describe: 'Take the bytes of entries out of all but the newest so many: those runs cannot be taken back then',
      })
      .example('$0 migration journals', 'What the journals of runs take up')
      .example('$0 migration journals --keep 2', 'Only the last two runs can be taken back from now on'),
  handler: (args) =>
    answer(
      args,
      (call) => (typeof args.keep === 'number' ? emptyJournals(call, args.keep) : journals(call)),
      journalsText,
    ),
};
export default command;
