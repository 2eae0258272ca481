import { inAnyForm } from '../tasks/normalForms.ts';
import { profile } from '../tasks/profile.ts';
import { profileBefore } from '../tasks/profileBefore.ts';
import { profileText } from '../view/text/profile.ts';
import { Trouble } from '../workspace/trouble.ts';
import { answer, type CommandModule, isComplete, textOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('address', { type: 'string', describe: 'A type or a field (default: all types)' })
      .option('at', {
        type: 'string',
        requiresArg: true,
        describe: 'Count values longer than these lengths: 60,80,100',
      })
      .option('before', {
        type: 'string',
        requiresArg: true,
        describe: 'Compare with a revision, a commit (commit:HEAD~1) or another workspace (./other)',
      })
      .option('language', { type: 'string', requiresArg: true, describe: 'Show labels in this language' })
      .example('$0 profile', 'All types: filled values, lengths, frequencies')
      .example('$0 profile lighthouse', 'The fields of a type')
      .example('$0 profile lighthouse.summary', 'One field, with values, shapes and lengths')
      .example('$0 profile lighthouse.summary --at 80,120', 'The number of texts that limits of 80 and 120 would hit')
      .example('$0 profile --before 1', 'Differences in use since revision 1'),
  handler: (args) =>
    answer(
      args,
      (call) => {
        const [address, before, language] = [args.address, args.before, args.language].map(textOf);
        const limits = limitsOf(textOf(args.at));
        return inAnyForm(address, (typed) => {
          const options = { address: typed, limits, language };
          if (before === undefined) return profile(call, options);
          return profileBefore(call, options, before);
        });
      },
      profileText,
      isComplete,
    ),
};
export default command;

/** @throws {Trouble} where something else than lengths is named. */
function limitsOf(text: string | undefined): readonly number[] | undefined {
  if (text === undefined) return undefined;

  const limits = text.split(',').map((part) => (/^\s*\d{1,9}\s*$/u.test(part) ? Number(part) : Number.NaN));
  if (limits.some((limit) => Number.isNaN(limit)))
    throw new Trouble('unusable-call', `--at takes lengths in characters, and “${text}” names others`, {
      mend: 'Write whole numbers with commas between them: --at 60,80,100',
    });
  return [...new Set(limits)].sort((a, b) => a - b);
}
