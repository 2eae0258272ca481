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
import { answer, type CommandModule, textOf } from '../answer.ts';
import type { Asker } from '../ask/asker.ts';
import { asking, isAsking } from '../ask/asking.ts';
import { sayCall } from '../ask/questions.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', { type: 'string', describe: 'Its number, or the name of its file; else the newest' })
      .option('step', { type: 'number', requiresArg: true, describe: 'The step whose question is answered' })
      .option('yes', {
        type: 'boolean',
        describe: 'Accept what the question suggests; each question says what a yes does',
      })
      .option('no', {
        type: 'boolean',
        describe: 'Refuse it: the next likely reading is taken, or the steps are drafted again without it',
      })
      .option('written', {
        type: 'string',
        requiresArg: true,
        describe: 'Read the texts in another way: month-first; several ways with commas',
      })
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
      .conflicts('yes', ['no', 'written', 'value', 'cel', 'use', 'where'])
      .conflicts('no', ['written', 'value', 'cel', 'use', 'where'])
      .conflicts('written', ['value', 'cel', 'use', 'where'])
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
  for (const says of ['written', 'value', 'cel', 'use', 'where'] as const) {
    const text = textOf(args[says]);
    if (text !== undefined) return { says, text };
  }
  return undefined;
}

/** What a person says who chose an answer that needs more. */
const asked = {
  written: 'How they are written',
  value: 'The value, as YAML',
  cel: 'The expression',
  use: 'The term',
  where: 'The condition',
};

/** Asks every open question, one after the other; what is left for later stays open, the end of the input leaves all. */
const askAll = (call: Call, meant: string | undefined): Promise<AnswerResult> =>
  asking(async (asker) => {
    const look = lookFor(process.stderr, undefined);
    const later = new Set<string>();
    let state = await openQuestions(call, meant);
    for (;;) {
      const question = state.questions.find((one) => !later.has(nameOf(one)));
      if (!question) return state;
      const said = await askOne(question, { asker, lead: questionText(question, state.questions.length, look) });
      if (asker.isEnded) return state;
      if (!said) later.add(nameOf(question));
      else state = await taken(() => answerQuestion(call, meant, question.step, said), { state, asker, said });
    }
  });

const nameOf = ({ verb, address }: Question): string => `${verb} ${address}`;

/** Asks one question. @returns nothing where it is left for later. */
async function askOne(
  question: Question,
  { asker, lead }: { asker: Asker; lead: string },
): Promise<Answer | undefined> {
  const choices = question.answers.map((one) => ({ value: one, key: one.charAt(0), says: wayOf(question, one) }));
  const says = (await asker.choose({ lead, message: question.open, choices, leave: 'leave it for later' })) as
    | Answer['says']
    | undefined;
  if (says === undefined || says === 'yes' || says === 'no') return says && { says };
  const text = await asker.write({ message: asked[says], leave: 'leave it for later' });
  return text === undefined ? undefined : { says, text };
}

interface Answering {
  readonly state: AnswerResult;
  readonly asker: Asker;
  readonly said: Answer;
}

/** Does what a person said, and tells the call that says the same; where it cannot be taken, why: it stays open. */
async function taken(answering: () => Promise<AnswerResult>, { state, asker, said }: Answering): Promise<AnswerResult> {
  try {
    const result = await answering();
    const option = 'text' in said ? [said.says, said.text] : [said.says];
    sayCall('migration answer', [String(state.number), '--step', String(result.answered)], [option]);
    return result;
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    asker.say(`  ${visible(error.message)}\n  ${visible(error.mend)}\n`);
    return state;
  }
}
