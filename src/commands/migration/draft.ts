import { compact } from '../../core/plain/json.ts';
import { draftMigration } from '../../tasks/migration/draft.ts';
import { draftText } from '../../view/text/migration.ts';
import { answer, type CommandModule, textOf, textsOf } from '../answer.ts';
import { renameOptions, renamesOf } from '../renames.ts';

const command: CommandModule = {
  builder: (yargs) =>
    renameOptions(yargs)
      .option('to', {
        type: 'string',
        requiresArg: true,
        default: 'working',
        describe: 'The model to lead to: `working`, or a revision',
      })
      .option('merge', {
        type: 'string',
        array: true,
        nargs: 1,
        describe: 'Merge two terms of an open taxonomy: topic:bird=birds',
      })
      .option('name', { type: 'string', requiresArg: true, describe: 'A name for the file' })
      .example('$0 migration draft', 'From the model that the entries obey to the working files')
      .example(
        '$0 migration draft --merge topic:bird=birds',
        'Carry every entry along; lumbrik terms topic --alike finds twins',
      )
      .example('$0 migration draft --name lens-heights', 'The same with a name of your own'),
  handler: (args) => {
    const [to, name] = [textOf(args.to), textOf(args.name)];
    return answer(
      args,
      (call) => draftMigration(call, compact({ to, name, merges: textsOf(args.merge), ...renamesOf(args) })),
      draftText,
    );
  },
};
export default command;
