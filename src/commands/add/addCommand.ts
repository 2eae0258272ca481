import type { Argv } from 'yargs';
import type { Wanted } from '../../tasks/add/definition.ts';
import { add } from '../../tasks/add.ts';
import { addText } from '../../view/text/add.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';
import { askFor, isAsking, type Question } from './ask.ts';

type Args = Readonly<Record<string, unknown>>;

/** An `add` command: its options, what it asks on a terminal where they are left out, and what they make together. */
export function addCommand(definition: {
  readonly builder: (yargs: Argv) => Argv;
  readonly questions: readonly Question[];
  readonly wanted: (args: Args) => Wanted;
}): CommandModule {
  const { builder, questions, wanted } = definition;
  return {
    builder: (yargs) =>
      builder(yargs).option('ask', {
        type: 'boolean',
        describe: 'Ask for what is left out; so it is on a terminal, --no-ask for never',
      }),
    handler: async (args) => {
      // Whoever says one of these things on the command line has said what they want to say.
      const open = questions.filter(({ name }) => args[name] === undefined);
      const isSilent = open.length === questions.length;
      const answers = isAsking(args, isSilent) ? await askFor(open) : {};
      await answer(args, (call) => add(call, wanted({ ...args, ...answers })), addText);
    },
  };
}

/** The options that were said, by their names in the model. */
export const said = (args: Args, ...names: readonly string[]): Readonly<Record<string, string>> =>
  Object.fromEntries(
    names.flatMap((name) => {
      const text = textOf(args[name]);
      return text === undefined ? [] : [[name, text] as const];
    }),
  );
