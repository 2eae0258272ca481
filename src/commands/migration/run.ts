import { run } from '../../tasks/migration/run.ts';
import { runText } from '../../view/text/migration.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', {
        type: 'string',
        describe: 'Its number or the name of its file; the newest if none is named',
      })
      .option('from-elsewhere', {
        type: 'boolean',
        describe: 'Finish a run whose journal came along with the folder and was not made here',
      })
      .example('$0 migration run 1', 'All of it or nothing; finishes a run that was stopped'),
  handler: (args) => answer(args, (call) => run(call, textOf(args.migration), args.fromElsewhere === true), runText),
};
export default command;
