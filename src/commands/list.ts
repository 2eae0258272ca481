import { type ListCall, list } from '../tasks/list.ts';
import { inAnyForm } from '../tasks/normalForms.ts';
import { listReports } from '../view/reports/list.ts';
import { formulasText, listText } from '../view/text/list.ts';
import { unreadText } from '../view/text/unread.ts';
import { Trouble } from '../workspace/trouble.ts';
import { type Arguments, answer, type CommandModule, isComplete, textOf } from './answer.ts';
import { limitOf, limitOption } from './limit.ts';

/** So many rows a person reads at once. */
const usualRows = 50;

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('about', {
        type: 'string',
        describe: 'A type, a term (region:north) or a condition in CEL (default: all entries)',
      })
      .option('format', {
        choices: Object.keys(listReports),
        describe: 'Output format',
      })
      .option('where', { type: 'string', requiresArg: true, describe: 'Only entries that meet this condition (CEL)' })
      .option('columns', {
        type: 'string',
        requiresArg: true,
        describe: 'Fields, separated by commas (default: the most telling)',
      })
      .option('sort', {
        type: 'string',
        requiresArg: true,
        describe: 'Fields to sort by, separated by commas; "range desc" sorts downwards',
      })
      .option('language', {
        type: 'string',
        requiresArg: true,
        describe: 'Show values in this language, with its fallbacks',
      })
      .option('walk', {
        type: 'boolean',
        describe: 'Browse entries with arrow keys; / searches, Enter opens the editor',
      })
      .option('limit', limitOption(`Number of rows (default: ${usualRows} as text, otherwise all; 0 for all)`))
      .example('$0 list lighthouse', 'The entries of a type, in the most telling columns')
      .example(
        '$0 list lighthouse --columns name,range,region --sort "range desc"',
        'With columns and an order of your own',
      )
      .example('$0 list lighthouse --walk', 'Browse, and open entries in the editor')
      .example('$0 list region:skerries', 'The entries under a term')
      .example('$0 list \'entry.status == "draft"\'', 'Entries of all types that meet a condition')
      .example('$0 list tour --format csv > tours.csv', 'All fields, for other programs'),
  handler: (args) => {
    const isText = args.format === undefined || args.format === 'text';
    const limit = limitOf(args.limit) ?? (isText ? usualRows : 0);
    if (args.format === 'csv' && args.language !== undefined && args.sort === undefined)
      throw new Trouble('unusable-call', 'CSV has values as they are stored, in all languages', {
        mend: 'Leave out --language, or choose the order with --sort.',
      });

    const options = {
      about: textOf(args.about),
      where: textOf(args.where),
      columns: namesIn(args.columns),
      sort: namesIn(args.sort),
      language: textOf(args.language),
      limit: limit === 0 ? undefined : limit,
      isExact: !isText && args.format !== 'markdown',
      inWords: args.format !== 'csv',
    };
    if (args.walk === true && isText && canWalk()) return walk(args, options);
    return answer(
      args,
      (call) => inAnyForm(options.about, (about) => list(call, { ...options, about })),
      {
        view: listText,
        reports: listReports,
        note: (result, look) =>
          `${args.format === 'csv' ? formulasText(result, look) : ''}${unreadText(result.unreadable, look)}`,
        isPaged: true,
      },
      isComplete,
    );
  },
};
export default command;

/** Whether there is a terminal to walk in; anywhere else a list is a text. */
const canWalk = (): boolean =>
  process.stdin.isTTY === true && process.stdout.isTTY === true && process.env.TERM !== 'dumb';

/** Walks through a list; its packages are loaded only here. */
async function walk(args: Arguments, request: ListCall): Promise<void> {
  const { walkList } = await import('./walk/walkList.ts');
  await walkList({ workspace: textOf(args.workspace) }, request);
}

function namesIn(value: unknown): readonly string[] | undefined {
  const names = textOf(value)
    ?.split(',')
    .map((name) => name.trim())
    .filter((name) => name !== '');
  if (names && names.length > 0) return [...new Set(names)];
  return undefined;
}
