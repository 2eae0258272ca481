import { inAnyForm } from '../tasks/normalForms.ts';
import { terms } from '../tasks/terms.ts';
import { termsText } from '../view/text/terms.ts';
import { answer, type CommandModule, textOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('taxonomy', { type: 'string', describe: 'A taxonomy, or a term in one' })
      .option('alike', { type: 'boolean', describe: 'Find terms that look like variants of one idea' })
      .option('add', { type: 'string', requiresArg: true, describe: 'Add every term of a list or a CSV file' })
      .option('from', {
        type: 'string',
        requiresArg: true,
        describe: 'Make the taxonomy of a file: SKOS (.ttl, .nt, .nq, .rdf, .jsonld), a list, a table or JSON',
      })
      .option('scheme', {
        type: 'string',
        requiresArg: true,
        describe: 'Which of several schemes in that file, by its address or the end of it',
      })
      .option('by-label', {
        type: 'boolean',
        describe: 'Call its terms by their labels, where their addresses say nothing',
      })
      .option('language', {
        type: 'string',
        requiresArg: true,
        describe: 'Read the labels in this language, with its fall-backs',
      })
      .conflicts('alike', 'add')
      .conflicts('from', ['alike', 'add'])
      .implies('scheme', 'from')
      .example('$0 terms', 'Every taxonomy with its counts')
      .example('$0 terms region', 'Its terms as a tree, with how many entries use each')
      .example('$0 terms region:north', 'The entries under a term')
      .example('$0 terms topic --alike', 'Spellings, plurals and other twins, the surest first')
      .example('$0 terms topic --add words.csv', 'Many terms at once')
      .example('$0 terms period --from periods.ttl', 'A new taxonomy from a thesaurus'),
  handler: (args) =>
    answer(
      args,
      (call) =>
        inAnyForm(textOf(args.taxonomy), (address) =>
          terms(call, {
            address,
            alike: args.alike === true,
            add: textOf(args.add),
            from: textOf(args.from),
            scheme: textOf(args.scheme),
            byLabel: args.byLabel === true,
            language: textOf(args.language),
          }),
        ),
      termsText,
    ),
};
export default command;
