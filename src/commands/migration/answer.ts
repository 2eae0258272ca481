import readline from 'node:readline/promises';
import { visible } from '../../core/plain/visible.ts';
import type { Call } from '../../tasks/call.ts';
import {
  type Answer,
  type AnswerResult,
  answerQuestion,
  openQuestions,
  type Question,
} from '../../tasks/migration/answer.ts';
import { lookFor } from '../../view/look.ts';
import { answerText, questionText } from '../../view/text/answer.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { isAsking } from '../add/ask.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', { type: 'string', describe: 'Its number, or the name of its file; else the newest' })
      .option('step', { type: 'number', requiresArg: true, describe: 'The step whose question is answered' })
      .option('yes', { type: 'boolean', describe: 'It is so; or: leave it as the step says' })
      .option('no', { type: 'boolean', describe: 'It is not so: the steps are worked out anew without it' })
      .option('value', { type: 'string', requiresArg: true, describe: 'The value that entries get, as YAML' })
      .option('cel', { type: 'string', requiresArg: true, describe: 'What each entry gets, computed by an expression' })
      .option('use', {
        type: 'string',
        requiresArg: true,
        describe: 'The term that entries get instead of a dropped one',
      })
      .option('where', { type: 'string', requiresArg: true, describe: 'Which entries it is about, by a condition' })
      .option('ask', {
        type: 'boolean',
        describe: 'Ask one question after the other; so it is on a terminal, --no-ask for never',
      })
      .conflicts('yes', ['no', 'value', 'cel', 'use', 'where'])
      .conflicts('no', ['value', 'cel', 'use', 'where'])
      .conflicts('value', ['cel', 'use', 'where'])
      .conflicts('cel', ['use', 'where'])
      .conflicts('use', 'where')
      .example('$0 migration answer', 'Ask what is open, one question after the other')
      .example('$0 migration answer 1 --step 2 --no', 'It was no rename')
      .example('$0 migration answer --step 3 --cel "entry.name.slug()"', 'What the entries get'),
  handler: (args) => {
    const meant = textOf(args.migration);
    const said = answerIn(args);
    const step = typeof args.step === 'number' ? args.step : undefined;
    return answer(
      args,
      (call) => {
        if (said) return answerQuestion(call, meant, step, said);
        return isAsking(args, true) ? askAll(call, meant) : openQuestions(call, meant);
      },
      answerText,
    );
  },
};
export default command;

function answerIn(args: Readonly<Record<string, unknown>>): Answer | undefined {
  if (args.yes === true) return { says: 'yes' };
  if (args.no === true) return { says: 'no' };
  for (const says of ['value', 'cel', 'use', 'where'] as const) {
    const text = textOf(args[says]);
    if (text !== undefined) return { says, text };
  }
  return undefined;
}

/** The letters by which a question is answered on a terminal. */
const letters: Readonly<Record<string, Answer['says']>> = {
  y: 'yes',
  n: 'no',
  v: 'value',
  c: 'cel',
  u: 'use',
  w: 'where',
};

/** What a person types who answered by a letter that needs more. */
const asked = { value: 'value', cel: 'expression', use: 'term', where: 'condition' };

/** Asks every open question, one after the other; an empty line leaves one for later, the end of the input leaves all. */
async function askAll(call: Call, meant: string | undefined): Promise<AnswerResult> {
  const asker = readline.createInterface({ input: process.stdin, output: process.stderr, terminal: false });
  const lines = asker[Symbol.asyncIterator]();
  const look = lookFor(process.stderr, undefined);
  const later = new Set<string>();
  try {
    for (let state = await openQuestions(call, meant); ; ) {
      const question = state.questions.find((one) => !later.has(nameOf(one)));
      if (!question) return state;
      process.stderr.write(questionText(question, state.questions.length, look));
      const said = await readAnswer(question, lines);
      if (said === 'end') return state;
      if (said === 'later') later.add(nameOf(question));
      else state = await taken(() => answerQuestion(call, meant, question.step, said), state);
    }
  } finally {
    asker.close();
  }
}

const nameOf = ({ verb, address }: Question): string => `${verb} ${address}`;

/** Does what a person said; where that cannot be taken, says why: what is asked stays open. */
async function taken(answering: () => Promise<AnswerResult>, state: AnswerResult): Promise<AnswerResult> {
  try {
    return await answering();
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    process.stderr.write(`  ${visible(error.message)}\n  ${visible(error.mend)}\n`);
    return state;
  }
}

async function readAnswer({ answers }: Question, lines: AsyncIterator<string>): Promise<Answer | 'later' | 'end'> {
  const line = await lines.next();
  if (line.done) return 'end';
  const word = line.value.trim().toLowerCase();
  if (word === '') return 'later';
  const says = letters[word.charAt(0)];
  if (says === undefined || !answers.includes(says)) return readAnswerAgain({ answers }, lines);
  if (says === 'yes' || says === 'no') return { says };
  process.stderr.write(`  The ${asked[says]}: `);
  const text = await lines.next();
  return text.done ? 'end' : { says, text: text.value };
}

async function readAnswerAgain(question: Pick<Question, 'answers'>, lines: AsyncIterator<string>) {
  process.stderr.write(
    `  Type one of ${question.answers.map((one) => one.charAt(0)).join(', ')}, or Enter for later: `,
  );
  return readAnswer(question as Question, lines);
}
