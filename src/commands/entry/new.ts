import { entryNew } from '../../tasks/entryNew.ts';
import { offered } from '../../tasks/promptChoices.ts';
import { entryNewText } from '../../view/text/add.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';
import { asking, isAsking } from '../ask/asking.ts';
import { askAll, type Question, sayCall } from '../ask/questions.ts';

const questions: readonly Question[] = [
  { name: 'type', text: 'Of which type is it?', isNeeded: true, among: (call) => offered(call, ['type']) },
  { name: 'title', text: 'What is it called?' },
];

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('type', { type: 'string', describe: 'The type of the entry' })
      .positional('id', { type: 'string', describe: 'Its identifier (default: made from the title)' })
      .option('title', { type: 'string', requiresArg: true, describe: 'Its title' })
      .option('ask', {
        type: 'boolean',
        describe: 'Ask for missing values (default on a terminal; --no-ask turns it off)',
      })
      .example(
        '$0 entry new lighthouse --title "Skerry Point"',
        'Writes content/lighthouse/skerry-point.md to fill in',
      ),
  handler: (args) =>
    answer(
      args,
      async (call) => {
        const open = questions.filter(({ name }) => args[name] === undefined && args.id === undefined);
        const isAsked = open.length > 0 && isAsking(args, args.type === undefined);
        const answers = isAsked ? await asking((asker) => askAll(open, asker, call)) : {};
        const list = { ...args, ...answers };
        const type = textOf(list.type);
        if (type === undefined)
          throw new Trouble('unusable-call', 'entry new needs to know more: <type> is missing', {
            mend: 'Write lumbrik entry new <type> --title "…", or let it ask: --ask',
          });

        const result = await entryNew(call, { type, id: textOf(args.id), title: textOf(list.title) });
        if (isAsked) sayCall('entry new', [type], answers.title === undefined ? [] : [['title', answers.title]]);

        return result;
      },
      entryNewText,
    ),
};
export default command;
