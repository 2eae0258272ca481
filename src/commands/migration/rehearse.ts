import { rehearse } from '../../tasks/migration/rehearse.ts';
import { rehearseMarkdown } from '../../view/markdown/rehearsal.ts';
import { rehearseText } from '../../view/text/rehearsal.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', {
        type: 'string',
        describe: 'Its number or the name of its file; the newest if none is named',
      })
      .option('prove', {
        type: 'boolean',
        describe: 'Take every entry there and back again, and tell what is not as it was',
      })
      .option('markdown', { type: 'boolean', describe: 'Print it as Markdown, for the comment of a review' })
      .example('$0 migration rehearse', 'What would change, what would be lost, and whether the check is clean then'),
  handler: (args) =>
    answer(
      args,
      (call) => rehearse(call, textOf(args.migration), { prove: args.prove === true }),
      args.markdown === true ? rehearseMarkdown : rehearseText,
      ({ ok }) => ok,
    ),
};
export default command;
