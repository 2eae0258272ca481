import { diff } from '../tasks/diff.ts';
import { diffText } from '../view/text/diff.ts';
import { answer, type CommandModule, textOf } from './answer.ts';
import { renameOptions, renamesOf } from './renames.ts';

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
      .example('$0 diff', 'What changed since the newest revision, and which entries that hits')
      .example('$0 diff 1 2', 'Two recorded revisions')
      .example('$0 diff commit:HEAD~3', 'The files as they were at a commit of git')
      .example('$0 diff --renamed lighthouse.height=focalHeight', 'Say that a field only got another name'),
  handler: (args) => answer(args, (call) => diff(call, textOf(args.from), textOf(args.to), renamesOf(args)), diffText),
};
export default command;
