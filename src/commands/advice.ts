import { advice } from '../tasks/advice.ts';
import { adviceText } from '../view/text/advice.ts';
import { answer, type CommandModule, isComplete } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .option('declined', { type: 'boolean', describe: 'Also list advice declined in lumbrik.yaml, with reasons' })
      .example('$0 advice', 'Suggestions with evidence')
      .example('$0 advice --declined', 'Also the declined ones'),
  handler: (args) =>
    answer(args, advice, (result, look) => adviceText(result, look, args.declined === true), isComplete),
};
export default command;
