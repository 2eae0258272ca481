import { showMigration } from '../../tasks/migration/show.ts';
import { migrationShowText } from '../../view/text/migration.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', { type: 'string', describe: 'Its number or file name (default: the newest)' })
      .example('$0 migration show 1', 'Each step in a sentence'),
  handler: (args) => answer(args, (call) => showMigration(call, textOf(args.migration)), migrationShowText),
};
export default command;
