import { mergeHistory } from '../tasks/history/merge.ts';
import { history } from '../tasks/history.ts';
import { historyText, mergeText } from '../view/text/history.ts';
import { answer, type CommandModule } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .option('merge', {
        type: 'boolean',
        describe: 'Put the revisions and migrations of two branches into one order, after git merged them',
      })
      .example('$0 history', 'Every revision, and whether it is what was recorded')
      .example('$0 history --merge', 'One order, where two branches sealed and drafted'),
  handler: (args) => {
    if (args.merge === true)
      return answer(
        args,
        (call) => mergeHistory(call),
        mergeText,
        ({ left }) => left.length === 0,
      );
    return answer(
      args,
      (call) => history(call),
      historyText,
      ({ ok }) => ok,
    );
  },
};
export default command;
