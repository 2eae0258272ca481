import { listMigrations } from '../../tasks/migration/list.ts';
import { listText } from '../../view/text/migration.ts';
import { answer, type CommandModule } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) => yargs.example('$0 migration list', 'Every migration, and how far it has come'),
  handler: (args) => answer(args, (call) => listMigrations(call), listText),
};
export default command;
