import { report } from '../tasks/report.ts';
import { page } from '../view/page/page.tsx';
import { refuseOther, usualPage } from '../view/page/place.ts';
import { reportText } from '../view/text/report.ts';
import { unreadText } from '../view/text/unread.ts';
import { writeWhole } from '../workspace/files.ts';
import { findWorkspace } from '../workspace/open.ts';
import { outPath } from '../workspace/outPath.ts';
import { Trouble } from '../workspace/trouble.ts';
import { answer, type CommandModule, isComplete, textOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('from', {
        type: 'string',
        describe: 'An older model to compare with: a revision, a commit (commit:HEAD~1) or another workspace (./other)',
      })
      .positional('to', { type: 'string', describe: 'The newer model: the same, or else the files as they are' })
      .option('out', { type: 'string', requiresArg: true, describe: `The file to write (${usualPage})` })
      .option('format', {
        choices: ['html'],
        describe: 'Write the page; or print all that it tells, or the page itself',
      })
      .option('language', { type: 'string', requiresArg: true, describe: 'Say labels and help in this language' })
      .example('$0 report', 'The model, its use, its check, and what changed since the newest revision')
      .example('$0 report 1 2 --out change.html', 'The same with what changed between two revisions')
      .example('$0 report --language fr', 'For people who read another language'),
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

/** The file that a page is written to; none where it is printed. @throws {Trouble} where both are asked for. */
function fileFor(args: Readonly<Record<string, unknown>>): string | undefined {
  const [format, out] = [textOf(args.format) ?? 'text', textOf(args.out)];
  if (format === 'text') return out ?? usualPage;
  if (out === undefined) return undefined;
  throw new Trouble('unusable-call', `--format ${format} is printed, and --out names a file`, {
    mend: `Leave --format out to write the page, or send what is printed on: lumbrik report --format ${format} > ${out}`,
  });
}
