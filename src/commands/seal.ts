import { seal } from '../tasks/seal.ts';
import { sealText } from '../view/text/seal.ts';
import { answer, type CommandModule } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .option('message', {
        alias: 'm',
        type: 'string',
        demandOption: true,
        requiresArg: true,
        describe: 'The change in one sentence',
      })
      .example('$0 seal -m "The first model"', 'Record the working files'),
  handler: (args) => answer(args, (call) => seal(call, String(args.message)), sealText),
};
export default command;
