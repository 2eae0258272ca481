import { inAnyForm } from '../tasks/normalForms.ts';
import { profile } from '../tasks/profile.ts';
import { profileBefore } from '../tasks/profileBefore.ts';
import { profileText } from '../view/text/profile.ts';
import { Trouble } from '../workspace/trouble.ts';
import { answer, type CommandModule, isComplete, textOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('address', { type: 'string', describe: 'A type, or a field of one; else all types' })
      .option('at', {
        type: 'string',
        requiresArg: true,
        describe: 'Lengths of texts: how many values are longer, such as 60,80,100',
      })
      .option('before', {
        type: 'string',
        requiresArg: true,
        describe: 'Compare with how it was: at a revision, a commit (commit:HEAD~1), in another workspace (./other)',
      })
      .option('language', { type: 'string', requiresArg: true, describe: 'Say labels in this language' })
      .example('$0 profile', 'Every type: what is filled, how long, how often')
      .example('$0 profile lighthouse', 'The fields of a type')
      .example('$0 profile lighthouse.summary', 'One field, with its values, shapes and lengths')
      .example('$0 profile lighthouse.summary --at 80,120', 'How many a limit of 80 or of 120 would hit')
      .example('$0 profile --before 1', 'What is used otherwise than when revision 1 was recorded'),
  handler: (args) =>
    answer(
      args,
      (call) => {
        const [address, before, language] = [args.address, args.before, args.language].map(textOf);
        const limits = limitsOf(textOf(args.at));
        return inAnyForm(address, (typed) => {
          const asked = { address: typed, limits, language };
          return before === undefined ? profile(call, asked) : profileBefore(call, asked, before);
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
  const limits = text.split(',').map((one) => (/^\s*\d{1,9}\s*$/u.test(one) ? Number(one) : Number.NaN));
  if (limits.some((one) => Number.isNaN(one)))
    throw new Trouble('unusable-call', `--at takes lengths in characters, and “${text}” names others`, {
      mend: 'Write whole numbers with commas between them: --at 60,80,100',
    });
  return [...new Set(limits)].sort((a, b) => a - b);
}
