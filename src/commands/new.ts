import { extraNames, newWorkspace, starterNames } from '../tasks/newWorkspace.ts';
import { newText } from '../view/text/new.ts';
import { answer, type CommandModule, textsOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('folder', {
        type: 'string',
        demandOption: true,
        describe: 'The folder to make; it must be empty or not there yet',
      })
      .option('starter', {
        type: 'string',
        default: 'empty',
        describe: `Its first content: ${starterNames().join(' or ')}`,
      })
      .option('with', {
        array: true,
        choices: extraNames,
        // Commas between them do as well as blanks.
        coerce: (values: readonly unknown[]) => values.flatMap((value) => String(value).split(',')),
        describe: 'Extras: a workflow for builds, a git hook that checks commits',
      })
      .example('$0 new coast --starter lighthouses', 'The worked example: eleven lights and those who kept them'),
  handler: (args) =>
    answer(args, () => newWorkspace(String(args.folder), String(args.starter), extrasOf(args.with)), newText),
};
export default command;

const extrasOf = (value: unknown) => extraNames.filter((name) => textsOf(value).includes(name));
