import { history } from '../tasks/history.ts';
import { historyText } from '../view/text/history.ts';
import { answer, type CommandModule } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) => yargs.example('$0 history', 'Every revision, and whether it is what was recorded'),
  handler: (args) =>
    answer(
      args,
      (call) => history(call),
      historyText,
      ({ ok }) => ok,
    ),
};
export default command;
