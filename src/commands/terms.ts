import { terms } from '../tasks/terms.ts';
import { termsText } from '../view/text/terms.ts';
import { answer, type CommandModule, textOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('taxonomy', { type: 'string', describe: 'A taxonomy, or a term in one' })
      .option('alike', { type: 'boolean', describe: 'Find terms that look like variants of one idea' })
      .option('add', { type: 'string', requiresArg: true, describe: 'Add every term of a list or a CSV file' })
      .option('language', {
        type: 'string',
        requiresArg: true,
        describe: 'Read the labels in this language, with its fall-backs',
      })
      .conflicts('alike', 'add')
      .example('$0 terms', 'Every taxonomy with its counts')
      .example('$0 terms region', 'Its terms as a tree, with how many entries use each')
      .example('$0 terms region:north', 'The entries under a term')
      .example('$0 terms topic --alike', 'Spellings, plurals and other twins, the surest first')
      .example('$0 terms topic --add words.csv', 'Many terms at once'),
  handler: (args) =>
    answer(
      args,
      (call) =>
        terms(call, {
          address: textOf(args.taxonomy),
          alike: args.alike === true,
          add: textOf(args.add),
          language: textOf(args.language),
        }),
      termsText,
    ),
};
export default command;
