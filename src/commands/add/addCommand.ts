import type { Argv } from 'yargs';
import type { DefinitionCall } from '../../tasks/add/definition.ts';
import { add } from '../../tasks/add.ts';
import { addText } from '../../view/text/add.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { type Arguments, answer, type CommandModule, textOf } from '../answer.ts';
import { asking, isAsking } from '../ask/asking.ts';
import { askAll, type Question, sayCall } from '../ask/questions.ts';

/** An `add` command: its options, its questions on a terminal for missing ones, and their combined result. */
export function addCommand(definition: {
  /** How it is called: `add type`. */
  readonly call: string;
  readonly builder: (yargs: Argv) => Argv;
  /** What cannot be done without, in the order in which the call says it. */
  readonly needed: readonly Question[];
  readonly questions: readonly Question[];
  readonly wanted: (args: Arguments) => DefinitionCall;
}): CommandModule {
  const { call: words, builder, needed, questions, wanted: expected } = definition;
  return {
    builder: (yargs) =>
      builder(yargs).option('ask', {
        type: 'boolean',
        describe: 'Ask for missing values (default on a terminal; --no-ask turns it off)',
      }),
    handler: (args) =>
      answer(
        args,
        async (call) => {
          // Anyone who says one of the other things on the command line has made their choice.
          const missing = needed.flatMap((question) =>
            args[question.name] === undefined ? [{ ...question, isNeeded: true as const }] : [],
          );
          const open = questions.filter(({ name }) => args[name] === undefined);
          const isAsked = isAsking(args, missing.length > 0 || open.length === questions.length);
          const answers = isAsked ? await asking((asker) => askAll([...missing, ...open], asker, call, args)) : {};
          const answered = { ...args, ...answers };
          const lacking = needed.find(({ name }) => answered[name] === undefined);
          if (lacking) throw lackingTrouble(words, lacking, needed);

          const result = await add(call, expected(answered));
          if (Object.keys(answers).length > 0)
            sayCall(
              words,
              needed.map(({ name }) => String(answered[name])),
              open.flatMap(({ name, option = (answer) => [name, answer] }) =>
                answers[name] === undefined ? [] : [option(answers[name])],
              ),
            );

          return result;
        },
        addText,
      ),
  };
}

const lackingTrouble = (words: string, { name }: Question, needed: readonly Question[]): Trouble =>
  new Trouble('unusable-call', `${words} needs to know more: <${name}> is missing`, {
    mend: `Write lumbrik ${words} ${needed.map((question) => `<${question.name}>`).join(' ')}, or let it ask: --ask`,
  });

/** The options that were stated, by their names in the model. */
export const givenTexts = (args: Arguments, ...names: readonly string[]): Readonly<Record<string, string>> =>
  Object.fromEntries(
    names.flatMap((name) => {
      const text = textOf(args[name]);
      if (text === undefined) return [];
      return [[name, text] as const];
    }),
  );
