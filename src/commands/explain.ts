import { explain } from '../tasks/explain.ts';
import { explainText } from '../view/text/explain.ts';
import { answer, type CommandModule, textOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('word', {
        type: 'string',
        describe: 'A kind, option, function, finding, step, advice or other word (default: list all)',
      })
      .example('$0 explain duration', 'A kind of field, with options and an example')
      .example('$0 explain dangling-reference', 'A finding'),
  handler: (args) => answer(args, () => explain(textOf(args.word)), { view: explainText, reports: {}, isPaged: true }),
};
export default command;
