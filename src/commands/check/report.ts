import { list, quote } from '../../core/plain/words.ts';
import { type CheckCall, check } from '../../tasks/check/check.ts';
import { printPieces } from '../../view/print.ts';
import { reports } from '../../view/reports/index.ts';
import { findingLines } from '../../view/reports/ndjson.ts';
import { checkShown, checkText } from '../../view/text/check.ts';
import { exitCodes } from '../../workspace/exitCodes.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { type Arguments, answer, textOf, textsOf } from '../answer.ts';
import { limitOf } from '../limit.ts';

/** Checks once, and reports findings in any format. */
export const report = (args: Arguments): Promise<void> =>
  answer(
    args,
    async (call) => check(call, await checkCallOf(args)),
    { view: checkText, shown: (result) => checkShown(result, limitOf(args.limit)), reports },
    ({ ok, stopped }) => (stopped ? exitCodes.stopped : ok),
  );

/** @throws {Trouble} where the call names parts, and is about all entries or one file. */
export function refuseParts(args: Arguments): void {
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

/** What a call asks to check. @throws {Trouble} where a baseline is wanted of a part. */
export async function checkCallOf(args: Arguments): Promise<CheckCall> {
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
