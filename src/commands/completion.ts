import { shells } from '../view/shells/index.ts';
import type { CommandModule } from './answer.ts';
import { textOf } from './answer.ts';
import { print } from './printing.ts';

const names = shells.map(({ name }) => name);

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('shell', { choices: names, describe: 'The shell (default: the one that SHELL names)' })
      .example(shells.map(({ name, install }): [string, string] => [install, `For ${name}`])),
  handler: async (args) => {
    const shellName = textOf(args.shell) ?? process.env.SHELL?.split('/').at(-1);
    const [usual] = shells;
    await print((shells.find(({ name }) => name === shellName) ?? usual)?.script ?? '');
  },
};
export default command;
