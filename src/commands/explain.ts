import { explain } from '../tasks/explain.ts';
import { explainText } from '../view/text/explain.ts';
import { answer, type CommandModule, textOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('word', {
        type: 'string',
        describe: 'A kind, an option, a function, a finding or a step; all of them if none is named',
      })
      .example('$0 explain duration', 'A kind of field, with its options and an example')
      .example('$0 explain dangling-reference', 'A finding'),
  handler: (args) => answer(args, () => explain(textOf(args.word)), { view: explainText, reports: {}, isPaged: true }),
};
export default command;
