import { nameFrom } from '../../core/definition/address.ts';
import { kinds } from '../../core/kinds/index.ts';
import type { Json } from '../../core/plain/json.ts';
import { labelled, unfitWords } from '../../tasks/add/definition.ts';
import { optionValue } from '../../tasks/add.ts';
import { offered } from '../../tasks/promptChoices.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { type Arguments, textOf, textsOf } from '../answer.ts';
import type { Question } from '../ask/questions.ts';
import { addCommand } from './addCommand.ts';

/** What a kind cannot do without, and is requested where the call does not say it with `--with`. */
interface KindQuestion extends Question {
  /** The value of the option, from the answer. */
  readonly value: (answer: string) => Json;
}

/** A question is named `choice.choices`: the kind, and the option that it is for. */
const optionOf = (name: string): string => name.split('.').at(-1) ?? name;

function asked(
  name: string,
  text: string,
  more: Pick<Question, 'among'> & { readonly value?: (answer: string) => Json },
): KindQuestion {
  const { value = (answer: string): Json => answer, ...among } = more;
  const [kind, option] = name.split('.');
  const isGiven = ({ with: given }: Arguments): boolean => textsOf(given).some((text) => text.startsWith(`${option}=`));

  return {
    name,
    text,
    isNeeded: true,
    ...among,
    value,
    applies: (answers) => answers.kind === kind && !isGiven(answers),
    option: (answer) => ['with', `${option}=${JSON.stringify(value(answer))}`],
  };
}

const kindQuestions: readonly KindQuestion[] = [
  asked('choice.choices', 'What can be chosen, with commas between?', {
    value: (answer) =>
      answer
        .split(',')
        .map((choice) => choice.trim())
        .filter((choice) => choice !== ''),
  }),
  asked('reference.to', 'To entries of which type does it lead?', { among: (call) => offered(call, ['type']) }),
  asked('term.taxonomy', 'Terms of which taxonomy does it hold?', { among: (call) => offered(call, ['taxonomy']) }),
  asked('slug.from', 'From which text field is it made?', {}),
];

export default addCommand({
  call: 'add field',
  builder: (yargs) =>
    yargs
      .positional('to', {
        type: 'string',
        describe: 'The type, the kit or the object (tour.price) that it is added to',
      })
      .positional('name', { type: 'string', describe: 'What authors call it: “Focal height”' })
      .option('kind', { type: 'string', requiresArg: true, describe: 'Its kind; lumbrik explain lists them' })
      .option('use', {
        type: 'string',
        requiresArg: true,
        describe: 'The shared field that it is made of, instead of a kind',
      })
      .option('required', {
        choices: ['always', 'published'],
        requiresArg: true,
        describe: 'When it must have a value',
      })
      .option('many', { type: 'boolean', describe: 'A list instead of one value' })
      .option('localized', { type: 'boolean', describe: 'A value in each language' })
      .option('titles', { type: 'boolean', describe: 'That it names the entries of the type in lists' })
      .option('with', { type: 'string', array: true, requiresArg: true, describe: 'Any other option, as max=80' })
      .conflicts('kind', 'use')
      .example('$0 add field lighthouse "Focal height" --kind decimal --with unit=m --with min=0', 'Adds focalHeight')
      .example('$0 add field tour Lights --kind reference --with to=lighthouse --many', 'Adds lights'),
  needed: [
    { name: 'to', text: 'To what is it added?', among: (call) => offered(call, ['type', 'kit']) },
    { name: 'name', text: 'What do authors call it?', wrong: unfitWords },
  ],
  questions: [
    {
      name: 'kind',
      text: 'Of which kind is it?',
      among: [...kinds.values()].map(({ name, about }) => ({ value: name, about })),
    },
    ...kindQuestions,
    {
      name: 'required',
      text: 'When must it have a value?',
      among: [{ value: 'always' }, { value: 'published', about: 'A draft may do without.' }],
    },
  ],
  wanted: (args) => {
    const words = String(args.name);
    const name = nameFrom(words);
    const kind = textOf(args.kind);
    const use = textOf(args.use);
    if (kind === undefined && use === undefined)
      throw new Trouble('unusable-call', 'the field has no kind', {
        mend: 'Give it one with --kind; lumbrik explain lists them.',
      });

    return {
      what: 'field',
      to: String(args.to),
      name,
      titles: args.titles === true,
      says: {
        ...(use === undefined ? { kind: kind ?? '' } : { use }),
        ...labelled(words, name),
        ...Object.fromEntries(
          kindQuestions.flatMap(({ name: option, value }) => {
            const answered = textOf(args[option]);
            if (answered === undefined) return [];
            return [[optionOf(option), value(answered)]];
          }),
        ),
        ...(args.required === undefined ? {} : { required: args.required === 'always' ? true : 'published' }),
        ...(args.many === true ? { many: true } : {}),
        ...(args.localized === true ? { localized: true } : {}),
        ...Object.fromEntries(textsOf(args.with).map(readOption)),
      },
    };
  },
});

function readOption(text: string) {
  const index = text.indexOf('=');
  if (index > 0) return [text.slice(0, index), optionValue(text.slice(index + 1))] as const;
  throw new Trouble('unusable-call', `--with ${text} names no option and its value`, { mend: 'Write --with max=80' });
}
