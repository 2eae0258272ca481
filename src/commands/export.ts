import { entryFormats } from '../core/export/entries/index.ts';
import { formats } from '../core/export/formats/index.ts';
import { list } from '../core/plain/words.ts';
import { syntaxes } from '../rdf/syntaxes.ts';
import { exportModel } from '../tasks/exportModel.ts';
import { exportTaxonomies } from '../tasks/exportTaxonomies.ts';
import { exportText } from '../view/text/export.ts';
import { Trouble } from '../workspace/trouble.ts';
import { type Arguments, answer, type CommandModule, textOf, textsOf } from './answer.ts';
import { exportEntriesAsked } from './exportEntries.ts';

const listed = [
  ...formats,
  { name: 'skos', about: `The taxonomies as SKOS: --as ${syntaxes.map(({ name }) => name).join(', ')}` },
  { name: 'entries', about: `The entries themselves: --as ${entryFormats.map(({ name }) => name).join(', ')}` },
];

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('to', {
        choices: listed.map(({ name }) => name),
        describe: 'Export format of the model, or `entries`',
      })
      .positional('types', { type: 'string', array: true, describe: 'Types, or taxonomies for skos (default: all)' })
      .option('out', { type: 'string', requiresArg: true, describe: 'File to write (default: print)' })
      .option('check', {
        type: 'boolean',
        implies: 'out',
        describe: 'Write nothing; exit with 1 if the file is not up to date',
      })
      .option('language', {
        type: 'string',
        requiresArg: true,
        describe: 'Labels, help and values of entries in this language, with its fallbacks',
      })
      .option('as', {
        choices: [...entryFormats, ...syntaxes].map(({ name }) => name),
        requiresArg: true,
        describe: 'Entries and skos: output form',
      })
      .option('where', {
        type: 'string',
        requiresArg: true,
        describe: 'Entries: only those that meet this condition (CEL)',
      })
      .option('public', {
        type: 'boolean',
        describe: 'Entries: only what readers see now',
      })
      .option('depth', {
        type: 'string',
        requiresArg: true,
        describe: 'Entries: embed referenced entries up to this depth',
      })
      .option('guard', {
        type: 'boolean',
        describe: 'Entries as CSV: put an apostrophe before cells that a spreadsheet would compute (=, +, -, @)',
      })
      .option('losses', {
        type: 'boolean',
        describe: 'Entries: write nothing; list what the form cannot hold, exit with 1 if there is any',
      })
      .epilogue(
        [
          ...listed.map(({ name, about }) => `${name.padEnd(12)} ${about}`),
          '',
          ...[...entryFormats, ...syntaxes].map(({ name, about }) => `--as ${name.padEnd(10)} ${about}`),
        ].join('\n'),
      )
      .example('$0 export typescript --out src/content.ts', 'Types for programmers')
      .example('$0 export typescript --out src/content.ts --check', 'In a build: is the file up to date?')
      .example('$0 export markdown lighthouse', 'One type, for people')
      .example('$0 export skos region --out regions.ttl', 'A taxonomy for other programs')
      .example('$0 export entries --as ndjson --out content.ndjson', 'All entries in one file')
      .example('$0 export entries --as csv --losses', 'What tables cannot hold')
      .example('$0 export entries tour --as json --public --language fr --depth 1', 'As readers see them'),
  handler: (args) => {
    refuseOthers(args);
    if (args.to === 'entries') return exportEntriesAsked(args);
    return answer(
      args,
      (call) => {
        if (args.to === 'skos')
          return exportTaxonomies(call, {
            taxonomies: textsOf(args.types),
            as: textOf(args.as),
            out: textOf(args.out),
            isCheck: args.check === true,
          });
        return exportModel(call, {
          format: textOf(args.to),
          types: textsOf(args.types),
          language: textOf(args.language),
          out: textOf(args.out),
          isCheck: args.check === true,
        });
      },
      (result, look) => exportText(result, args.check === true, look),
      ({ current }) => args.check !== true || current === true,
    );
  },
};
export default command;

/** The options that only some exports have. */
const alone: Readonly<Record<string, readonly string[]>> = {
  as: ['entries', 'skos'],
  where: ['entries'],
  public: ['entries'],
  depth: ['entries'],
  losses: ['entries'],
  guard: ['entries'],
};

/** @throws {Trouble} where something is stated that means nothing here: nobody should believe that it did. */
function refuseOthers(args: Arguments): void {
  const to = textOf(args.to) ?? '';
  const names = Object.keys(alone).filter((name) => args[name] !== undefined && !alone[name]?.includes(to));
  const unread = to === 'skos' && args.language !== undefined ? [...names, 'language'] : names;
  if (unread.length > 0 && args.to !== undefined)
    throw new Trouble(
      'unusable-call',
      `${list(unread.map((name) => `--${name}`))} ${unread.length === 1 ? 'says' : 'say'} nothing of ${to}`,
      {
        mend: 'Leave it out; lumbrik export --help says what each is for.',
      },
    );
}
