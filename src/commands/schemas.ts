import { schemas } from '../tasks/schemas.ts';
import { schemasText } from '../view/text/schemas.ts';
import { answer, type CommandModule } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .option('check', { type: 'boolean', describe: 'Write nothing; exit with 1 if they are not up to date' })
      .option('name', { type: 'boolean', describe: 'Name them in the model files, as $schema' })
      .conflicts('check', 'name')
      .example('$0 schemas --name', 'Completion and explanations in an editor')
      .example('$0 schemas --check', 'In a build'),
  handler: (args) =>
    answer(
      args,
      (call) => schemas(call, { check: args.check === true, name: args.name === true }),
      (result, look) => schemasText(result, args.check === true, look),
      ({ current }) => args.check !== true || current,
    ),
};
export default command;
