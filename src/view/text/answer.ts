import { count } from '../../core/plain/words.ts';
import type { AnswerResult, Question } from '../../tasks/migration/answer.ts';
import { glyphs, type Look, next, oneLine, padRight, wrap } from '../look.ts';

const ways: Readonly<Record<Question['answers'][number], string>> = {
  yes: 'yes',
  no: 'no',
  written: 'no, they are written in another way',
  value: 'a value for all',
  cel: 'a value computed for each (CEL)',
  use: 'another term instead',
  where: 'those for which a condition holds',
};

/** The questions that are left of a migration, and how they are answered. */
export function answerText(
  { file, number, answered, readAs, replanned, settled, questions }: AnswerResult,
  look: Look,
): string {
  const { paint } = look;
  const done =
    answered === undefined
      ? ''
      : `${paint.good(glyphs.fine)} Step ${answered} is answered in ${paint.name(file)}${replanned ? ', and the steps were worked out anew' : ''}${readAs === undefined ? '' : `: with ${oneLine(readAs, 40)}`}\n`;
  const settledLines = settled.map(
    (step) => `${paint.good(glyphs.fine)} Step ${step} asks nothing any more: no entry needs it now\n`,
  );
  const text = done + settledLines.join('');
  if (questions.length === 0)
    return `${text}${paint.good(glyphs.fine)} ${paint.strong('No question is open')} in ${file}\n${next(`lumbrik migration rehearse ${number}`, 'to try it without writing', look)}`;

  const list = questions.map((question) => `\n${oneQuestion(question, look)}`).join('');
  const [first] = questions;
  const example = first ? `--step ${first.step} --${first.answers.join(' | --')}` : '';

  return `${text}${paint.strong(count(questions.length, 'open question'))} in ${paint.name(file)}\n${list}${next(`lumbrik migration answer ${number} ${example}`, 'answers the first', look)}`;
}

const oneQuestion = (question: Question, look: Look): string =>
  `${stepText(question, look)}     ${look.paint.warn('?')} ${look.paint.strong(wrap(question.open, look.width - 7, '       '))}\n`;

function stepText({ step, verb, address, suggested, says: message }: Question, { paint, width }: Look): string {
  const hint = Object.entries(suggested).map(([key, value]) => `${key} ${oneLine(value, 40)}`);
  return [
    `${paint.soft(String(step).padStart(3))}  ${padRight(verb, 8)}${paint.name(address)}${hint.length > 0 ? `  ${paint.soft(hint.join(', '))}` : ''}\n`,
    message === '' ? '' : `     ${paint.soft(wrap(message, width - 5, '     '))}\n`,
  ].join('');
}

/** What a mere yes means. */
const yesMeans: Readonly<Record<Question['yes'], string>> = {
  accept: ways.yes,
  leave: 'leave it to the authors',
  lose: 'it is lost',
};

/** What a yes to a question does. */
function yesTo({ yes, suggest }: Question): string {
  if (!suggest) return yesMeans[yes];
  if (typeof suggest.cel === 'string') return `what ${suggest.cel} gives`;
  return `${oneLine(suggest.value ?? null, 40)} for all`;
}

/** What an answer to a question means. */
export function wayOf(question: Question, answer: Question['answers'][number]): string {
  if (answer === 'yes') return yesTo(question);
  const isLeft = answer === 'no' && question.suggest !== undefined;
  if (isLeft) return yesMeans.leave;
  return ways[answer];
}

/** What is reported above a question that is asked: which step it is about, and what the entries say. */
export const questionText = (question: Question, remaining: number, look: Look): string =>
  `\n${look.paint.soft(count(remaining, 'question'))}\n${stepText(question, look)}`;
