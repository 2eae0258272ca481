import { mergeHistory } from '../tasks/history/merge.ts';
import { history } from '../tasks/history.ts';
import { historyText, mergeText } from '../view/text/history.ts';
import { answer, type CommandModule } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .option('merge', {
        type: 'boolean',
        describe: 'Put the revisions and migrations of two merged branches into one order',
      })
      .example('$0 history', 'All revisions, and whether each is unchanged')
      .example('$0 history --merge', 'One order after a merge of two branches'),
  handler: (args) => {
    if (args.merge === true)
      return answer(
        args,
        (call) => mergeHistory(call),
        mergeText,
        ({ left: remaining }) => remaining.length === 0,
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
