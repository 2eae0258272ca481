import { type DiffResult, diff } from '../tasks/diff.ts';
import { diffMarkdown } from '../view/markdown/diff.ts';
import { diffText } from '../view/text/diff.ts';
import { answer, type CommandModule, textOf } from './answer.ts';
import { renameOptions, renamesOf } from './renames.ts';

/** What can be too much for a build, with the ratings that are. */
const failing: Readonly<Record<string, readonly string[]>> = {
  migrate: ['migrate', 'lose'],
  lose: ['lose'],
  notice: ['notice', 'break'],
  break: ['break'],
};

const fails = ({ entries, readers }: DiffResult, failOn: string | undefined): boolean =>
  failOn !== undefined && [entries, readers].some((rating) => failing[failOn]?.includes(rating));

const command: CommandModule = {
  builder: (yargs) =>
    renameOptions(yargs)
      .positional('from', {
        type: 'string',
        describe:
          'The old model: a revision, `sealed` for the newest, a commit (commit:HEAD~1) or another workspace (./other)',
        default: 'sealed',
      })
      .positional('to', {
        type: 'string',
        describe: 'The new model: the same, or `working` for the working files',
        default: 'working',
      })
      .option('words', { type: 'boolean', describe: 'Show changed texts in full, before and after' })
      .option('markdown', { type: 'boolean', describe: 'Print Markdown, for a review comment' })
      .option('fail-on', {
        choices: Object.keys(failing),
        requiresArg: true,
        describe: 'Exit with 1 if the effect on entries or readers is this or worse',
      })
      .example('$0 diff', 'Changes since the newest revision, and their effect')
      .example('$0 diff 1 2', 'Two revisions')
      .example('$0 diff commit:HEAD~3', 'Since a git commit')
      .example('$0 diff --renamed lighthouse.height=focalHeight', 'State that a field was renamed'),
  handler: (args) =>
    answer(
      args,
      (call) => diff(call, textOf(args.from), textOf(args.to), renamesOf(args)),
      args.markdown === true ? diffMarkdown : (result, look) => diffText(result, look, args.words === true),
      (result) => !fails(result, textOf(args.failOn)),
    ),
};
export default command;
