import { advice } from '../tasks/advice.ts';
import { adviceText } from '../view/text/advice.ts';
import { answer, type CommandModule, isComplete } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .option('declined', { type: 'boolean', describe: 'Tell as well what is declined in lumbrik.yaml, and why' })
      .example('$0 advice', 'What may be better in the model, with what speaks for it')
      .example('$0 advice --declined', 'The same with what was declined'),
  handler: (args) =>
    answer(args, advice, (result, look) => adviceText(result, look, args.declined === true), isComplete),
};
export default command;
