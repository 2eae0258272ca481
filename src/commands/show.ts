import { inAnyForm } from '../tasks/normalForms.ts';
import { show } from '../tasks/show.ts';
import { showText } from '../view/text/show.ts';
import { answer, type CommandModule, textOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('address', {
        type: 'string',
        describe: 'What to show: a type, a field, a kit, a taxonomy, a term or an entry',
      })
      .option('language', {
        type: 'string',
        requiresArg: true,
        describe: 'Read what is shown in this language, with its fall-backs',
      })
      .example('$0 show', 'The workspace at a glance')
      .example('$0 show lighthouse', 'A type with its fields')
      .example('$0 show sharing', 'A kit, and every field that is made of it')
      .example('$0 show region:', 'A taxonomy as a tree')
      .example('$0 show lighthouse/skerry-point', 'An entry, and what points at it'),
  handler: (args) =>
    answer(args, (call) => inAnyForm(textOf(args.address), (address) => show(call, address, textOf(args.language))), {
      view: showText,
      reports: {},
      isPaged: true,
    }),
};
export default command;
