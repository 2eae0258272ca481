import { formats } from '../core/export/formats/index.ts';
import { exportModel } from '../tasks/exportModel.ts';
import { exportText } from '../view/text/export.ts';
import { answer, type CommandModule, textOf, textsOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('to', { choices: formats.map(({ name }) => name), describe: 'What it is told as' })
      .positional('types', { type: 'string', array: true, describe: 'Types; else all of them' })
      .option('out', { type: 'string', requiresArg: true, describe: 'The file to write; else it is printed' })
      .option('check', {
        type: 'boolean',
        implies: 'out',
        describe: 'Write nothing; exit with 1 where the file is not what the model says',
      })
      .option('language', { type: 'string', requiresArg: true, describe: 'Say labels and help in this language' })
      .epilogue(formats.map(({ name, about }) => `${name.padEnd(12)} ${about}`).join('\n'))
      .example('$0 export typescript --out src/content.ts', 'Types for programmers')
      .example('$0 export typescript --out src/content.ts --check', 'In a build: is that file up to date?')
      .example('$0 export markdown lighthouse', 'One type, for people'),
  handler: (args) =>
    answer(
      args,
      (call) =>
        exportModel(call, {
          format: textOf(args.to),
          types: textsOf(args.types),
          language: textOf(args.language),
          out: textOf(args.out),
          isCheck: args.check === true,
        }),
      (result, look) => exportText(result, args.check === true, look),
      ({ current }) => args.check !== true || current === true,
    ),
};
export default command;
