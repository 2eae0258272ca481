import { tryExpression, usual } from '../tasks/try.ts';
import { tryText } from '../view/text/try.ts';
import { answer, type CommandModule, textOf, textsOf } from './answer.ts';
import { limitOf, limitOption } from './limit.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('expression', { type: 'string', describe: 'An expression (CEL) over `entry`' })
      .positional('entries', { type: 'string', array: true, describe: 'Entries, or types for their first entries' })
      .option('limit', limitOption(`Number of entries per type (default ${usual}; 0 for all)`))
      .example("$0 try 'entry.name.upper()' lighthouse", 'For the first entries of a type')
      .example("$0 try \"inUnits('PT1H30M', 'minutes')\"", 'Without an entry'),
  handler: (args) =>
    answer(
      args,
      (call) => tryExpression(call, textOf(args.expression) ?? '', textsOf(args.entries), limitOf(args.limit)),
      tryText,
      ({ ok }) => ok,
    ),
};
export default command;
