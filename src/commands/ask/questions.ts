import { shellWord } from '../../core/plain/shellWord.ts';
import { visible } from '../../core/plain/visible.ts';
import type { Call } from '../../tasks/call.ts';
import { glyphs, lookFor } from '../../view/look.ts';
import type { Asker, Choice } from './asker.ts';

/** A question for what a call left out. */
export interface Question {
  /** The option or the argument that says it. */
  readonly name: string;
  readonly text: string;
  /** That nothing can be done without an answer. */
  readonly isNeeded?: true;
  /** What may be answered; anything where it is not given. */
  readonly among?: readonly Choice[] | ((call: Call) => Promise<readonly Choice[]>);
  /** Why a text cannot be the answer. */
  readonly wrong?: (text: string) => string | undefined;
  /** Whether to ask it, by the call and the answers so far. Default: always. */
  readonly applies?: (answers: Readonly<Record<string, unknown>>) => boolean;
  /** The option that says the answer on the command line, with its value; the one of its name where it is not given. */
  readonly option?: (answer: string) => readonly string[];
}

type Answers = Readonly<Record<string, string>>;

/** Asks what a call left out, one question after the other, until nobody answers any more. */
export async function askAll(
  questions: readonly Question[],
  asker: Asker,
  call: Call,
  args: Readonly<Record<string, unknown>> = {},
): Promise<Answers> {
  const answers: Record<string, string> = {};
  for (const { name, text: message, isNeeded, among, wrong, applies } of questions) {
    if (applies && !applies({ ...args, ...answers })) continue;
    const leave = isNeeded ? undefined : 'leave it out';
    const choices = typeof among === 'function' ? await among(call) : among;
    const answer = await (choices ? asker.choose({ message, leave, choices }) : asker.write({ message, leave, wrong }));
    if (answer !== undefined) answers[name] = answer;
    if (asker.isEnded) break;
  }

  return answers;
}

/** Tells, beside the result, the call that would have said all of it at once. */
export function sayCall(words: string, named: readonly string[], options: readonly (readonly string[])[]): void {
  const { paint } = lookFor(process.stderr, undefined);
  const parts = [
    ...named.map(shellWord),
    ...options.map(([name, ...value]) => [`--${name}`, ...value.map(shellWord)].join(' ')),
  ];
  process.stderr.write(
    `${paint.soft(`${glyphs.next} the same without questions:`)} ${paint.name(visible(`lumbrik ${words} ${parts.join(' ')}`))}\n`,
  );
}
