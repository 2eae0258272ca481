import { inAnyForm } from '../tasks/normalForms.ts';
import { rename } from '../tasks/rename.ts';
import { renameText } from '../view/text/rename.ts';
import { answer, type CommandModule } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('address', { type: 'string', demandOption: true, describe: 'Address of the part to rename' })
      .positional('name', { type: 'string', demandOption: true, describe: 'The new name, without what is above it' })
      .example('$0 rename lighthouse.height focalHeight', 'A field, and every mention of it')
      .example('$0 rename region:north northern', 'A term')
      .example('$0 rename tour.difficulty:hard steep', 'A choice'),
  handler: (args) =>
    answer(
      args,
      (call) => inAnyForm(String(args.address), (address) => rename(call, address, String(args.name))),
      renameText,
    ),
};
export default command;
