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
      return checkCallOf(args).then((request) =>
        watchCheck({ workspace: textOf(args.workspace), color: colorOf(args) }, request, (result, look) =>
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
        if (isAsking(args, true)) return askFixes(call);
        return planFixes(call);
      },
      fixText,
      ({ fixes, unsure, waiting, left: remaining, written }) =>
        (written ? 0 : fixes.length) + unsure.length + waiting + remaining === 0,
    );
  },
};
export default command;

/** @throws {Trouble} where the call names parts, and is about all entries or one file. */
function refuseParts(args: Readonly<Record<string, unknown>>): void {
  const wholeOption = ['since', 'fix', 'stdin'].find((option) => args[option] !== undefined && args[option] !== false);
  if (textsOf(args.what).length === 0 || wholeOption === undefined) return;
  throw new Trouble(
    'unusable-call',
    `--${wholeOption} is about ${wholeOption === 'stdin' ? 'one file' : 'all entries'}`,
    {
      mend: `Leave out ${list(
        textsOf(args.what).map((text) => quote(text)),
        'and',
      )}.`,
    },
  );
}

async function checkCallOf(args: Readonly<Record<string, unknown>>): Promise<CheckCall> {
  const named = textsOf(args.what);
  const [where, changedSince, file] = [args.where, args.changedSince, args.stdin].map(textOf);
  const isPart = named.length > 0 || [where, changedSince, file].some((option) => option !== undefined);
  if (args.baseline === true && isPart)
    throw new Trouble('unusable-call', 'a baseline holds everything that is known', {
      mend: 'Write it without saying a part: lumbrik check --baseline',
    });
  return {
    what: named,
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
