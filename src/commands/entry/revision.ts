import { entryRevision } from '../../tasks/entryRevision.ts';
import { entryRevisionText } from '../../view/text/entryRevision.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('revision', {
        type: 'string',
        describe: 'The revision to record',
      })
      .example('$0 entry revision', 'The recorded revision, and the one that fits')
      .example('$0 entry revision 2', 'Record revision 2; no entry changes'),
  handler: (args) => answer(args, (call) => entryRevision(call, textOf(args.revision)), entryRevisionText),
};
export default command;
