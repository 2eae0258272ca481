import { rehearse } from '../../tasks/migration/rehearse.ts';
import { rehearseMarkdown } from '../../view/markdown/rehearsal.ts';
import { rehearseText } from '../../view/text/rehearsal.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', {
        type: 'string',
        describe: 'Its number or file name (default: the newest)',
      })
      .option('prove', {
        type: 'boolean',
        describe: 'Take every entry there and back, and report differences',
      })
      .option('markdown', { type: 'boolean', describe: 'Print Markdown, for a review comment' })
      .example('$0 migration rehearse', 'Changes, losses, and the errors that would remain'),
  handler: (args) =>
    answer(
      args,
      (call) => rehearse(call, textOf(args.migration), { prove: args.prove === true }),
      args.markdown === true ? rehearseMarkdown : rehearseText,
      ({ ok }) => ok,
    ),
};
export default command;
