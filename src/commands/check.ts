import { list, quote } from '../core/plain/words.ts';
import { type CheckCall, check } from '../tasks/check/check.ts';
import { planFixes, writeFixes } from '../tasks/check/fix.ts';
import { checkSince } from '../tasks/check/since.ts';
import { printPieces } from '../view/print.ts';
import { reports } from '../view/reports/index.ts';
import { findingLines } from '../view/reports/ndjson.ts';
import { checkShown, checkText, usualLimit } from '../view/text/check.ts';
import { fixText } from '../view/text/fix.ts';
import { sinceText } from '../view/text/since.ts';
import { exitCodes } from '../workspace/exitCodes.ts';
import { Trouble } from '../workspace/trouble.ts';
import { answer, type CommandModule, colorOf, refuseFormat, textOf, textsOf } from './answer.ts';
import { isAsking } from './ask/asking.ts';
import { askFixes } from './askFixes.ts';
import { limitOf, limitOption } from './limit.ts';
import { watchCheck } from './watchCheck.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .option('format', {
        choices: Object.keys(reports),
        describe: 'For a person, or for a program',
      })
      .positional('what', {
        array: true,
        type: 'string',
        describe: 'Types, entries, files or folders that are asked about; else everything',
      })
      .option('where', { type: 'string', requiresArg: true, describe: 'Only entries that meet a condition, in CEL' })
      .option('changed-since', {
        type: 'string',
        requiresArg: true,
        describe: 'Only what changed since a commit of git, and what points at that',
      })
      .option('since', {
        type: 'string',
        requiresArg: true,
        describe: 'Only what the change of the model since a revision causes, under the change that causes it',
      })
      .option('stdin', {
        type: 'string',
        requiresArg: true,
        describe: 'Only one file, as it stands on standard input and not on the disk: for editors',
      })
      .option('watch', { type: 'boolean', describe: 'Check again whenever something changes, until Ctrl-C' })
      .option('baseline', {
        type: 'boolean',
        describe: 'Write down what is found as known: from then on only what is new is told',
      })
      .option('max-warnings', limitOption('Exit with 1 where there are more warnings than this'))
      .option('limit', limitOption(`How many findings of each name are printed (${usualLimit}); 0 for all`))
      .option('fix', { type: 'boolean', describe: 'Show what a machine can mend, as a difference' })
      .option('yes', { type: 'boolean', implies: 'fix', describe: 'Write what is sure' })
      .option('ask', {
        type: 'boolean',
        implies: 'fix',
        describe: 'Ask for what is not sure, one by one; so it is on a terminal, --no-ask for never',
      })
      .example('$0 check', 'Everything that is wrong, with its place and a way to mend it')
      .example('$0 check --format json', 'The same for a build; exit code 1 where there is an error')
      .example('$0 check --format sarif > found.sarif', 'The same for tools that show it beside the lines')
      .example('$0 check lighthouse content/tour', 'The entries of a type and those of a folder')
      .example('$0 check --where \'entry.status == "draft"\'', 'Entries that meet a condition')
      .example('$0 check --changed-since main', 'What a branch changed, and what points at that')
      .example('$0 check --since 1', 'What the model since revision 1 makes wrong')
      .conflicts('watch', ['since', 'fix', 'stdin', 'baseline'])
      .conflicts('since', ['fix', 'where', 'changed-since', 'stdin', 'baseline', 'max-warnings'])
      .conflicts('fix', ['where', 'changed-since', 'stdin', 'baseline', 'max-warnings', 'limit'])
      .conflicts('stdin', ['where', 'changed-since'])
      .example('$0 check --fix', 'What a machine can mend'),
  handler: (args) => {
    const since = textOf(args.since);
    refuseParts(args);
    if (since !== undefined)
      return answer(
        args,
        (call) => checkSince(call, since),
        (result, look) => sinceText(result, look, limitOf(args.limit)),
        ({ ok }) => ok,
      );
    if (args.watch === true) refuseFormat(String(args.format), []);
    if (args.watch === true)
      return checkCallOf(args).then((asked) =>
        watchCheck({ workspace: textOf(args.workspace), color: colorOf(args) }, asked, (result, look) =>
          checkText(checkShown(result, limitOf(args.limit)), look),
        ),
      );
    if (args.fix !== true)
      return answer(
        args,
        async (call) => check(call, await checkCallOf(args)),
        { view: checkText, shown: (result) => checkShown(result, limitOf(args.limit)), reports },
        ({ ok, stopped }) => (stopped ? exitCodes.stopped : ok),
      );
    return answer(
      args,
      (call) => {
        if (args.yes === true && args.ask !== true) return writeFixes(call, []);
        return isAsking(args, true) ? askFixes(call) : planFixes(call);
      },
      fixText,
      ({ fixes, unsure, waiting, left, written }) =>
        (written ? 0 : fixes.length) + unsure.length + waiting + left === 0,
    );
  },
};
export default command;

/** @throws {Trouble} where a part is asked about, and the call is about all entries, or about one file. */
function refuseParts(args: Readonly<Record<string, unknown>>): void {
  const whole = ['since', 'fix', 'stdin'].find((option) => args[option] !== undefined && args[option] !== false);
  if (textsOf(args.what).length === 0 || whole === undefined) return;
  throw new Trouble('unusable-call', `--${whole} is about ${whole === 'stdin' ? 'one file' : 'all entries'}`, {
    mend: `Leave out ${list(
      textsOf(args.what).map((one) => quote(one)),
      'and',
    )}.`,
  });
}

async function checkCallOf(args: Readonly<Record<string, unknown>>): Promise<CheckCall> {
  const what = textsOf(args.what);
  const [where, changedSince, file] = [args.where, args.changedSince, args.stdin].map(textOf);
  const isPart = what.length > 0 || [where, changedSince, file].some((one) => one !== undefined);
  if (args.baseline === true && isPart)
    throw new Trouble('unusable-call', 'a baseline holds everything that is known', {
      mend: 'Write it without saying a part: lumbrik check --baseline',
    });
  return {
    what,
    where,
    changedSince,
    ...(file === undefined ? {} : { file, text: await readStdin() }),
    baseline: args.baseline === true,
    tell: args.format === 'ndjson' ? (findings) => printPieces(findingLines(findings)) : undefined,
    maxWarnings: limitOf(args.maxWarnings, 'max-warnings'),
  };
}

async function readStdin(): Promise<Buffer> {
  const pieces: Buffer[] = [];
  for await (const piece of process.stdin) pieces.push(Buffer.from(piece));
  return Buffer.concat(pieces);
}
