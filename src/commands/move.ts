import { inAnyForm } from '../tasks/normalForms.ts';
import { move } from '../tasks/rename.ts';
import { renameText } from '../view/text/rename.ts';
import { answer, type CommandModule } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('address', { type: 'string', demandOption: true, describe: 'A field of a type' })
      .positional('to', { type: 'string', demandOption: true, describe: 'Its new address' })
      .example('$0 move tour.street tour.at.street', 'Into an object, which is created if it is missing'),
  handler: (args) =>
    answer(
      args,
      (call) => inAnyForm(String(args.address), (address) => move(call, address, String(args.to))),
      renameText,
    ),
};
export default command;
