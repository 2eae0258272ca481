import { entryRevision } from '../../tasks/entryRevision.ts';
import { entryRevisionText } from '../../view/text/entryRevision.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('revision', {
        type: 'string',
        describe: 'The revision that they obey, where it is to be recorded',
      })
      .example('$0 entry revision', 'Which revision the entries obey, and which they would')
      .example('$0 entry revision 2', 'Record that they obey revision 2; no entry is touched'),
  handler: (args) => answer(args, (call) => entryRevision(call, textOf(args.revision)), entryRevisionText),
};
export default command;
