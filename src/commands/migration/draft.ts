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
        describe: 'The target model: `working`, or a revision',
      })
      .option('merge', {
        type: 'string',
        array: true,
        nargs: 1,
        describe: 'Merge or rename a term of an open taxonomy: topic:bird=birds',
      })
      .option('name', { type: 'string', requiresArg: true, describe: 'Name of the file' })
      .example('$0 migration draft', 'From the model that entries obey to the working files')
      .example(
        '$0 migration draft --merge topic:bird=birds',
        'Merge two terms; lumbrik terms topic --alike finds duplicates',
      )
      .example('$0 migration draft --name lens-heights', 'With a name of your own'),
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
