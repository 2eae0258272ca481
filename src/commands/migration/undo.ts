import { undo } from '../../tasks/migration/undo.ts';
import { undoText } from '../../view/text/migration.ts';
import { answer, type CommandModule, textOf } from '../frame.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', {
        type: 'string',
        describe: 'Its number or the name of its file; refused if another was run after it',
      })
      .example('$0 migration undo', 'Every file as it was before the last run, byte for byte'),
  handler: (args) => answer(args, (call) => undo(call, textOf(args.migration)), undoText),
};
export default command;
