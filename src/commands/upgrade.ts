import { upgrade } from '../tasks/upgrade.ts';
import { upgradeText } from '../view/text/upgrade.ts';
import { answer, type CommandModule } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) => yargs.example('$0 upgrade', 'Rewrite model files that an earlier Lumbrik could read'),
  handler: (args) => answer(args, upgrade, upgradeText, ({ mistakes }) => mistakes === 0),
};
export default command;
