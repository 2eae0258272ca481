import { newWorkspace, starterNames } from '../tasks/newWorkspace.ts';
import { newText } from '../view/text/new.ts';
import { answer, type CommandModule } from './answer.ts';

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
        describe: `What it begins with: ${starterNames().join(' or ')}`,
      })
      .example('$0 new coast --starter lighthouses', 'The worked example: eleven lights and those who kept them'),
  handler: (args) => answer(args, () => newWorkspace(String(args.folder), String(args.starter)), newText),
};
export default command;
