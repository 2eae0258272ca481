import { undo } from '../../tasks/migration/undo.ts';
import { undoText } from '../../view/text/migration.ts';
import { exitCodes } from '../../workspace/exitCodes.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', {
        type: 'string',
        describe: 'Its number or the name of its file; refused if another was run after it',
      })
      .option('model', { type: 'boolean', describe: 'Take the files of the model back as well, as git has them' })
      .option('partly', {
        type: 'boolean',
        describe:
          'Take back all but what cannot be: files whose originals are damaged, edits that have no place before',
      })
      .option('from-elsewhere', {
        type: 'boolean',
        describe: 'Act on a journal that came along with the folder and was not made here',
      })
      .example('$0 migration undo', 'Every file as it was before the last run, byte for byte')
      .example('$0 migration undo --model', 'The model as well, so that both are in step again'),
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
