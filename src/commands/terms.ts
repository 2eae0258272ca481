import { inAnyForm } from '../tasks/normalForms.ts';
import { terms } from '../tasks/terms.ts';
import { termsText } from '../view/text/terms.ts';
import { answer, type CommandModule, textOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('taxonomy', { type: 'string', describe: 'A taxonomy, or one of its terms' })
      .option('alike', { type: 'boolean', describe: 'Find terms that look like variants of one another' })
      .option('add', { type: 'string', requiresArg: true, describe: 'Add the terms of a list or a CSV file' })
      .option('from', {
        type: 'string',
        requiresArg: true,
        describe: 'Import the taxonomy from SKOS (.ttl, .nt, .nq, .rdf, .jsonld), a list, a table or JSON',
      })
      .option('scheme', {
        type: 'string',
        requiresArg: true,
        describe: 'The scheme to import, by its address or the end of it',
      })
      .option('by-label', {
        type: 'boolean',
        describe: 'Name terms by their labels instead of their addresses',
      })
      .option('language', {
        type: 'string',
        requiresArg: true,
        describe: 'Show labels in this language, with its fallbacks',
      })
      .conflicts('alike', 'add')
      .conflicts('from', ['alike', 'add'])
      .implies('scheme', 'from')
      .example('$0 terms', 'All taxonomies with counts')
      .example('$0 terms region', 'Its terms as a tree, with the number of entries')
      .example('$0 terms region:north', 'The entries under a term')
      .example('$0 terms topic --alike', 'Spellings, plurals and other duplicates, the surest first')
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
