import { reports } from '../../view/reports/index.ts';
import { usualLimit } from '../../view/text/check.ts';
import type { CommandModule } from '../answer.ts';
import { limitOption } from '../limit.ts';
import { fix } from './fix.ts';
import { refuseParts, report } from './report.ts';
import { since } from './since.ts';
import { watch } from './watch.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .option('format', { choices: Object.keys(reports), describe: 'Output format' })
      .positional('what', {
        array: true,
        type: 'string',
        describe: 'Types, entries, files or folders to report on (default: everything)',
      })
      .option('where', { type: 'string', requiresArg: true, describe: 'Only entries that meet this condition (CEL)' })
      .option('changed-since', {
        type: 'string',
        requiresArg: true,
        describe: 'Only entries changed since a git commit, and entries that point at them',
      })
      .option('since', {
        type: 'string',
        requiresArg: true,
        describe: 'Only findings caused by model changes since a revision, grouped by change',
      })
      .option('stdin', {
        type: 'string',
        requiresArg: true,
        describe: 'Check one file with the text from standard input, for editors',
      })
      .option('watch', { type: 'boolean', describe: 'Check again at every change, until Ctrl-C' })
      .option('baseline', {
        type: 'boolean',
        describe: 'Save current findings as the baseline; later checks report only new ones',
      })
      .option('max-warnings', limitOption('Exit with 1 if there are more warnings than this'))
      .option('limit', limitOption(`Number of findings printed per name (default ${usualLimit}; 0 for all)`))
      .option('fix', { type: 'boolean', describe: 'Show the fixes that can be made by machine' })
      .option('yes', { type: 'boolean', implies: 'fix', describe: 'Write the sure fixes' })
      .option('ask', {
        type: 'boolean',
        implies: 'fix',
        describe: 'Ask about each uncertain fix (default on a terminal; --no-ask turns it off)',
      })
      .example('$0 check', 'All findings, with places and remedies')
      .example('$0 check --format json', 'For a build; exit code 1 if there is an error')
      .example('$0 check --format sarif > found.sarif', 'For tools that show findings beside lines')
      .example('$0 check lighthouse content/tour', 'The entries of a type and of a folder')
      .example('$0 check --where \'entry.status == "draft"\'', 'Entries that meet a condition')
      .example('$0 check --changed-since main', 'Changes of a branch, and what points at them')
      .example('$0 check --since 1', 'Findings caused by model changes since revision 1')
      .conflicts('watch', ['since', 'fix', 'stdin', 'baseline'])
      .conflicts('since', ['fix', 'where', 'changed-since', 'stdin', 'baseline', 'max-warnings'])
      .conflicts('fix', ['where', 'changed-since', 'stdin', 'baseline', 'max-warnings', 'limit'])
      .conflicts('stdin', ['where', 'changed-since'])
      .example('$0 check --fix', 'Fixes that can be made by machine'),
  handler: (args) => {
    refuseParts(args);
    if (args.since !== undefined) return since(args);
    if (args.watch === true) return watch(args);
    if (args.fix === true) return fix(args);
    return report(args);
  },
};
export default command;
