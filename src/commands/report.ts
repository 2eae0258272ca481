import { report } from '../tasks/report.ts';
import { page } from '../view/page/page.tsx';
import { refuseOther, usualPage } from '../view/page/place.ts';
import { reportText } from '../view/text/report.ts';
import { unreadText } from '../view/text/unread.ts';
import { writeWhole } from '../workspace/files.ts';
import { findWorkspace } from '../workspace/open.ts';
import { outPath } from '../workspace/outPath.ts';
import { Trouble } from '../workspace/trouble.ts';
import { type Arguments, answer, type CommandModule, isComplete, textOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('from', {
        type: 'string',
        describe: 'The old model: a revision, a commit (commit:HEAD~1) or another workspace (./other)',
      })
      .positional('to', { type: 'string', describe: 'The new model (default: the working files)' })
      .option('out', { type: 'string', requiresArg: true, describe: `File to write (default ${usualPage})` })
      .option('format', {
        choices: ['html'],
        describe: 'Write the page (text), or print its data (json) or the page (html)',
      })
      .option('language', { type: 'string', requiresArg: true, describe: 'Show labels and help in this language' })
      .example('$0 report', 'The model, its use, findings, and changes since the newest revision')
      .example('$0 report 1 2 --out change.html', 'With the changes between two revisions')
      .example('$0 report --language fr', 'In another language'),
  handler: (args) => {
    const file = fileFor(args);
    let bytes = 0;

    return answer(
      args,
      async (call) => {
        const full = file === undefined ? undefined : outPath(findWorkspace(call.workspace), file);
        if (full !== undefined) refuseOther(full);
        const result = await report(call, {
          from: textOf(args.from),
          to: textOf(args.to),
          language: textOf(args.language),
        });
        if (full === undefined) return result;

        const text = Buffer.from([...page(result)].join(''));
        writeWhole(full, text);
        bytes = text.length;

        return result;
      },
      {
        view: (result, look) => reportText(result, { file: file ?? usualPage, bytes }, look),
        reports: { html: page },
        note: ({ profile }, look) => unreadText(profile.unreadable, look),
      },
      ({ profile }) => isComplete(profile),
    );
  },
};
export default command;

/** The file that a page is written to; none where it is printed. @throws {Trouble} where both are requested. */
function fileFor(args: Arguments): string | undefined {
  const [format, outFile] = [textOf(args.format) ?? 'text', textOf(args.out)];
  if (format === 'text') return outFile ?? usualPage;
  if (outFile === undefined) return undefined;
  throw new Trouble('unusable-call', `--format ${format} is printed, and --out names a file`, {
    mend: `Leave --format out to write the page, or redirect the output: lumbrik report --format ${format} > ${outFile}`,
  });
}
