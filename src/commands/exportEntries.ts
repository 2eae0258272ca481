import { exportEntries } from '../tasks/exportEntries.ts';
import { exportedEntriesText, lossesText, onlyLossesText, warningsText } from '../view/text/export.ts';
import { unreadText } from '../view/text/unread.ts';
import { Trouble } from '../workspace/trouble.ts';
import { type Arguments, answer, isComplete, textOf, textsOf } from './answer.ts';
import { print } from './printing.ts';

/** Lets entries go out, into a file or to standard output. */
export function exportEntriesAsked(args: Arguments): Promise<void> {
  const outFile = textOf(args.out);
  if (args.check === true)
    throw new Trouble('unusable-call', '--check is for what the model says, and not for entries', {
      mend: 'Leave it out; to check entries, say lumbrik check.',
    });

  const isOnlyLosses = args.losses === true;
  if (outFile === undefined && args.format === 'json' && !isOnlyLosses)
    throw new Trouble('unusable-call', 'the entries and the messages about them would go to the same output', {
      mend: 'Say --out <file>, or leave --format json out.',
    });
  return answer(
    args,
    (call) =>
      exportEntries(
        call,
        {
          as: textOf(args.as),
          types: textsOf(args.types),
          where: textOf(args.where),
          language: textOf(args.language),
          isPublic: args.public === true,
          depth: depthOf(textOf(args.depth)),
          out: outFile,
          isOnlyLosses,
          isGuarded: args.guard === true,
        },
        print,
      ),
    (result, look) => {
      const unread = unreadText(result.unreadable, look);
      if (isOnlyLosses) return `${onlyLossesText(result, look)}${unread}`;
      if (outFile === undefined)
        return { text: '', note: `${lossesText(result, look)}${warningsText(result, look)}${unread}` };
      return `${warningsText(result, look)}${exportedEntriesText(result, look)}${unread}`;
    },
    (result) => isComplete(result) && !(isOnlyLosses && result.lost.length > 0),
  );
}

/** So deep nobody reads. */
const deepest = 5;

function depthOf(text: string | undefined): number {
  if (text === undefined) return 0;
  const depth = /^\d{1,3}$/u.test(text) ? Number(text) : Number.NaN;
  if (depth >= 0 && depth <= deepest) return depth;
  throw new Trouble('unusable-call', `--depth is a number from 0 to ${deepest}, and not \`${text}\``, {
    mend: 'Use --depth 1 for referenced entries, --depth 2 for their references too.',
  });
}
