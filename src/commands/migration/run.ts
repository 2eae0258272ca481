import { run } from '../../tasks/migration/run.ts';
import { runText } from '../../view/text/migration.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', {
        type: 'string',
        describe: 'Its number or file name (default: the newest)',
      })
      .option('from-elsewhere', {
        type: 'boolean',
        describe: 'Finish a run whose journal was made on another machine or account',
      })
      .example('$0 migration run 1', 'All or nothing; also finishes a stopped run'),
  handler: (args) => answer(args, (call) => run(call, textOf(args.migration), args.fromElsewhere === true), runText),
};
export default command;
