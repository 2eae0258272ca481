import { entryNew } from '../../tasks/entryNew.ts';
import { entryNewText } from '../../view/text/add.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('type', { type: 'string', demandOption: true, describe: 'The type of the entry' })
      .positional('id', { type: 'string', describe: 'Its identifier; else made from the title' })
      .option('title', { type: 'string', requiresArg: true, describe: 'What it is called' })
      .example(
        '$0 entry new lighthouse --title "Skerry Point"',
        'Writes content/lighthouse/skerry-point.md to fill in',
      ),
  handler: (args) =>
    answer(
      args,
      (call) => entryNew(call, { type: String(args.type), id: textOf(args.id), title: textOf(args.title) }),
      entryNewText,
    ),
};
export default command;
