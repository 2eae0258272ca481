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

const fails = ({ entries, readers }: DiffResult, what: string | undefined): boolean =>
  what !== undefined && [entries, readers].some((rating) => failing[what]?.includes(rating));

const command: CommandModule = {
  builder: (yargs) =>
    renameOptions(yargs)
      .positional('from', {
        type: 'string',
        describe:
          'The older model: a revision, `sealed` for the newest, a commit (commit:HEAD~1) or another workspace (./other)',
        default: 'sealed',
      })
      .positional('to', {
        type: 'string',
        describe: 'The newer model: the same, or `working` for the files as they are',
        default: 'working',
      })
      .option('words', { type: 'boolean', describe: 'Show texts that changed in full, before and after' })
      .option('markdown', { type: 'boolean', describe: 'Print it as Markdown, for the comment of a review' })
      .option('fail-on', {
        choices: Object.keys(failing),
        requiresArg: true,
        describe: 'Exit with 1 where entries or readers are hit so hard, or harder: for builds',
      })
      .example('$0 diff', 'What changed since the newest revision, and which entries that hits')
      .example('$0 diff 1 2', 'Two recorded revisions')
      .example('$0 diff commit:HEAD~3', 'The files as they were at a commit of git')
      .example('$0 diff --renamed lighthouse.height=focalHeight', 'Say that a field only got another name'),
  handler: (args) =>
    answer(
      args,
      (call) => diff(call, textOf(args.from), textOf(args.to), renamesOf(args)),
      args.markdown === true ? diffMarkdown : (result, look) => diffText(result, look, args.words === true),
      (result) => !fails(result, textOf(args.failOn)),
    ),
};
export default command;
