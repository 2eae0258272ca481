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
import { answerText, questionText, wayOf } from '../../view/text/answer.ts';
import { Trouble } from '../../workspace/trouble.ts';
import type { Arguments } from '../answer.ts';
import { answer, type CommandModule, textOf } from '../answer.ts';
import type { Asker } from '../ask/asker.ts';
import { asking, isAsking } from '../ask/asking.ts';
import { sayCall } from '../ask/questions.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', { type: 'string', describe: 'Its number or file name (default: the newest)' })
      .option('step', { type: 'number', requiresArg: true, describe: 'Number of the step' })
      .option('yes', {
        type: 'boolean',
        describe: 'Accept: each question says what yes does',
      })
      .option('no', {
        type: 'boolean',
        describe: 'Refuse: the next likely reading follows, or the steps are drafted again',
      })
      .option('written', {
        type: 'string',
        requiresArg: true,
        describe: 'Read texts in another way: month-first; several with commas',
      })
      .option('value', { type: 'string', requiresArg: true, describe: 'The value for entries, as YAML' })
      .option('cel', { type: 'string', requiresArg: true, describe: 'An expression (CEL) that computes each value' })
      .option('use', {
        type: 'string',
        requiresArg: true,
        describe: 'The term that replaces a dropped one',
      })
      .option('where', { type: 'string', requiresArg: true, describe: 'A condition for the entries concerned (CEL)' })
      .option('ask', {
        type: 'boolean',
        describe: 'Ask the questions one by one (default on a terminal; --no-ask turns it off)',
      })
      .conflicts('yes', ['no', 'written', 'value', 'cel', 'use', 'where'])
      .conflicts('no', ['written', 'value', 'cel', 'use', 'where'])
      .conflicts('written', ['value', 'cel', 'use', 'where'])
      .conflicts('value', ['cel', 'use', 'where'])
      .conflicts('cel', ['use', 'where'])
      .conflicts('use', 'where')
      .example('$0 migration answer', 'Ask the open questions one by one')
      .example('$0 migration answer 1 --step 2 --no', 'Refuse a rename')
      .example('$0 migration answer --step 3 --cel "entry.name.slug()"', 'Compute the values'),
  handler: (args) => {
    const typed = textOf(args.migration);
    const givenAnswer = answerIn(args);
    const step = typeof args.step === 'number' ? args.step : undefined;

    return answer(
      args,
      (call) => {
        if (givenAnswer) return answerQuestion(call, typed, step, givenAnswer);
        if (isAsking(args, true)) return askAll(call, typed);
        return openQuestions(call, typed);
      },
      answerText,
    );
  },
};
export default command;

function answerIn(args: Arguments): Answer | undefined {
  if (args.yes === true) return { says: 'yes' };
  if (args.no === true) return { says: 'no' };

  for (const form of ['written', 'value', 'cel', 'use', 'where'] as const) {
    const text = textOf(args[form]);
    if (text !== undefined) return { says: form, text };
  }

  return undefined;
}

/** What a person says who chose an answer that needs more. */
const questions = {
  written: 'How they are written',
  value: 'The value, as YAML',
  cel: 'The expression',
  use: 'The term',
  where: 'The condition',
};

/** Asks every open question, one after the other; skipped questions stay open; the end of the input skips all. */
const askAll = (call: Call, typed: string | undefined): Promise<AnswerResult> =>
  asking(async (asker) => {
    const look = lookFor(process.stderr, undefined);
    const later = new Set<string>();
    let state = await openQuestions(call, typed);
    for (;;) {
      const question = state.questions.find((question) => !later.has(nameOf(question)));
      if (!question) return state;
      const answer = await askOne(question, { asker, lead: questionText(question, state.questions.length, look) });
      if (asker.isEnded) return state;
      if (!answer) later.add(nameOf(question));
      else state = await taken(() => answerQuestion(call, typed, question.step, answer), { state, asker, answer });
    }
  });

const nameOf = ({ verb, address }: Question): string => `${verb} ${address}`;

/** Asks one question. @returns nothing where it is left for later. */
async function askOne(
  question: Question,
  { asker, lead }: { asker: Asker; lead: string },
): Promise<Answer | undefined> {
  const choices = question.answers.map((answer) => ({
    value: answer,
    key: answer.charAt(0),
    says: wayOf(question, answer),
  }));
  const form = (await asker.choose({ lead, message: question.open, choices, leave: 'leave it for later' })) as
    | Answer['says']
    | undefined;
  if (form === undefined || form === 'yes' || form === 'no') return form && { says: form };

  const text = await asker.write({ message: questions[form], leave: 'leave it for later' });

  if (text === undefined) return undefined;
  return { says: form, text };
}

interface Answering {
  readonly state: AnswerResult;
  readonly asker: Asker;
  readonly answer: Answer;
}

/** Does what a person said, and tells the call that says the same; where it cannot be taken, why: it stays open. */
async function taken(
  answering: () => Promise<AnswerResult>,
  { state, asker, answer }: Answering,
): Promise<AnswerResult> {
  try {
    const result = await answering();
    const option = 'text' in answer ? [answer.says, answer.text] : [answer.says];
    sayCall('migration answer', [String(state.number), '--step', String(result.answered)], [option]);
    return result;
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    asker.say(`  ${visible(error.message)}\n  ${visible(error.mend)}\n`);
    return state;
  }
}
