import { undo } from '../../tasks/migration/undo.ts';
import { undoText } from '../../view/text/migration.ts';
import { exitCodes } from '../../workspace/exitCodes.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', {
        type: 'string',
        describe: 'Its number or file name (default: the last run)',
      })
      .option('model', { type: 'boolean', describe: 'Also restore the model files from git' })
      .option('partly', {
        type: 'boolean',
        describe: 'Take back what can be: skip damaged originals, drop edits without a place',
      })
      .option('from-elsewhere', {
        type: 'boolean',
        describe: 'Use a journal made on another machine or account',
      })
      .example('$0 migration undo', 'Restore every file of the last run')
      .example('$0 migration undo --model', 'Restore the model too'),
  handler: (args) =>
    answer(
      args,
      (call) =>
        undo(call, {
          meant: textOf(args.migration),
          partly: args.partly === true,
          model: args.model === true,
          fromElsewhere: args.fromElsewhere === true,
        }),
      undoText,
      ({ ok }) => ok || exitCodes.refused,
    ),
};
export default command;
