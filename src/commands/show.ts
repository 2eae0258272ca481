import { inAnyForm } from '../tasks/normalForms.ts';
import { show } from '../tasks/show.ts';
import { showText } from '../view/text/show.ts';
import { answer, type CommandModule, textOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('address', {
        type: 'string',
        describe: 'A type, field, kit, taxonomy, term or entry',
      })
      .option('language', {
        type: 'string',
        requiresArg: true,
        describe: 'Show texts in this language, with its fallbacks',
      })
      .example('$0 show', 'An overview of the workspace')
      .example('$0 show lighthouse', 'A type with its fields')
      .example('$0 show sharing', 'A kit and the types that use it')
      .example('$0 show region:', 'A taxonomy as a tree')
      .example('$0 show lighthouse/skerry-point', 'An entry and the entries that point at it'),
  handler: (args) =>
    answer(args, (call) => inAnyForm(textOf(args.address), (address) => show(call, address, textOf(args.language))), {
      view: showText,
      reports: {},
      isPaged: true,
    }),
};
export default command;
