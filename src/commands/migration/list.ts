import { listMigrations } from '../../tasks/migration/list.ts';
import { listText } from '../../view/text/migration.ts';
import { answer, type CommandModule } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) => yargs.example('$0 migration list', 'All migrations with their states'),
  handler: (args) => answer(args, (call) => listMigrations(call), listText),
};
export default command;
