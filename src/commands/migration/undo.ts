import { undo } from '../../tasks/migration/undo.ts';
import { undoText } from '../../view/text/migration.ts';
import { answer, type CommandModule } from '../frame.ts';

const command: CommandModule = {
  builder: (yargs) => yargs.example('$0 migration undo', 'Every file as it was before the last run, byte for byte'),
  handler: (args) => answer(args, (call) => undo(call), undoText),
};
export default command;
